"""Serving the application with waitress."""

from __future__ import annotations

import errno
import logging
import secrets
import signal
import socket
import sys
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, NoReturn

import waitress
from filelock import FileLock, Timeout

from pivrel.jobs import leftovers
from pivrel.jobs.memory import in_words
from pivrel.jobs.spare import SPARE
from pivrel.memory import give_back_now_and_then, keep_freed_memory
from pivrel.store.database import Database
from pivrel.store.errors import one_line
from pivrel.web.app import MAX_UPLOAD, STATIC, create_app
from pivrel.web.arriving import bound_bodies
from pivrel.web.guard import Door, is_loopback

THREADS = 16
"""Requests at a time. Heavy ones wait for their turn (`web.turns`), so that others find a thread."""

CONNECTIONS = 1000
IDLE_S = 60
"""How many connections are held, and after how long one is closed on which nothing comes."""


TURN_S = 0.0005
"""How long a thread keeps Python to itself while another waits for it: an edit asks for it some ten times."""


def run(
    data: Path,
    host: str,
    port: int,
    token: str | None = None,
    first: Callable[[Database], Iterable[str]] = lambda _: (),
    beside: Callable[[], None] = lambda: None,
) -> None:
    """Serves until stopped, and prints the address once it answers. SystemExit with one line where it cannot.

    first: what is done before it serves, in lines. beside: called once it serves.
    """
    keep_freed_memory()
    sys.setswitchinterval(TURN_S)
    # A request that waits a moment for a thread is nothing to be told of.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    if not (STATIC / "index.html").is_file():
        raise SystemExit("error: the front end is not built; run 'make setup' first")
    lock = _only_one(data)
    database = Database(data)
    database.reserve.keep()
    token = token or secrets.token_urlsafe(16)
    for line in _recovered(database):
        print(line, flush=True)
    server = _bound(create_app(database, Door.at(host, token)), host, port)
    _stop_when_told()
    for line in first(database):
        print(line, flush=True)
    if not is_loopback(host):
        print(
            "warning: other machines can reach Pivrel at this address. Whoever knows the address with its token can "
            "see and change everything, and what is sent is not encrypted.",
            flush=True,
        )
    address = _address(server, host) + ("/" if is_loopback(host) else f"/?token={token}")
    print(f"Pivrel is at {address} (data in {data.resolve()}); stop with Ctrl+C", flush=True)
    SPARE.keep()
    give_back_now_and_then()
    beside()
    try:
        server.run()
    finally:
        leftovers.end_all()
        database.close()
        lock.release()


def _only_one(data: Path) -> FileLock:
    """The lock of a data folder, which ends with the process whatever happens to it."""
    try:
        data.mkdir(parents=True, exist_ok=True)
        lock = FileLock(data / "serving.lock")
        lock.acquire(timeout=0)
    except Timeout:
        raise SystemExit(
            f"error: another Pivrel is serving {data} already; use that one, or another folder with --data"
        ) from None
    except OSError as error:
        raise SystemExit(f"error: {one_line(error, data)}") from None
    return lock


def _recovered(database: Database) -> list[str]:
    """What an earlier run has left behind because it was cut off, in words."""
    swept, unkept = leftovers.sweep(), database.sweep()
    out = []
    if database.recovered_bytes:
        size = in_words(database.recovered_bytes)
        out.append(
            f"recovered: the last run was cut off; its last confirmed edits were taken over from the log ({size})"
        )
    if swept:
        out.append(
            f"recovered: {swept} unfinished {'import' if swept == 1 else 'imports'} of an earlier run removed"
        )
    if unkept:
        out.append(
            f"recovered: {unkept} unfinished {'file' if unkept == 1 else 'files'} of an earlier run removed"
        )
    return out


def _bound(app: Any, host: str, port: int) -> Any:
    """The server at its address. SystemExit where the address cannot be had."""
    try:
        server = waitress.create_server(
            app,
            host=host,
            port=port,
            threads=THREADS,
            connection_limit=CONNECTIONS,
            channel_timeout=IDLE_S,
            cleanup_interval=10,
            # Looks out for visitors who leave while they wait.
            channel_request_lookahead=1,
            # select() cannot watch as many connections as are let in.
            asyncore_use_poll=True,
            max_request_body_size=MAX_UPLOAD + (1 << 20),
            # Layings of large models are megabytes: hand them to the socket in large pieces.
            send_bytes=1 << 18,
            outbuf_overflow=1 << 26,
        )
        bound_bodies(server)
        return server
    except (OSError, ValueError) as error:
        raise SystemExit(f"error: {_why_not(error, host, port)}") from None


def _why_not(error: Exception, host: str, port: int) -> str:
    number = error.errno if isinstance(error, OSError) else None
    if number == errno.EADDRINUSE:
        return f"port {port} is in use; give another with --port"
    if number == errno.EACCES:
        return f"port {port} is not yours to use; give one above 1023 with --port"
    if isinstance(error, socket.gaierror | ValueError) or number == errno.EADDRNOTAVAIL:
        return f"{host!r} is no address of this machine; leave --host out, or name one that it has"
    return f"{host!r}, port {port}, cannot be served: {error}"


def _address(server: Any, host: str) -> str:
    """The address as a browser takes it: the first of those listened to, or this machine's name for all of them."""
    if host in ("0.0.0.0", "::"):
        host = socket.gethostname()
    listening = getattr(server, "effective_listen", None)
    port = listening[0][1] if listening else server.effective_port
    return f"http://[{host}]:{port}" if ":" in host else f"http://{host}:{port}"


def _stop_when_told() -> None:
    def stop(*_: object) -> NoReturn:
        raise SystemExit(0)

    signal.signal(signal.SIGTERM, stop)
    # A shell starts what runs in its background deaf to this one.
    signal.signal(signal.SIGINT, stop)
