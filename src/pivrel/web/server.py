"""Serving the application with waitress."""

from __future__ import annotations

import logging
import socket
from pathlib import Path

import waitress

from pivrel.memory import keep_freed_memory
from pivrel.store.database import Database
from pivrel.web.app import MAX_UPLOAD, STATIC, create_app


def run(data: Path, host: str, port: int) -> None:
    """Serves until stopped, and prints the address once it answers."""
    keep_freed_memory()
    # A request that waits a moment for a thread is nothing to be told of.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    database = Database(data)
    if not (STATIC / "index.html").is_file():
        raise SystemExit("error: the front end is not built; run 'make setup' first")
    if socket.socket().connect_ex((host, port)) == 0:
        raise SystemExit(f"error: port {port} is in use; give another with --port")
    server = waitress.create_server(
        create_app(database),
        host=host,
        port=port,
        threads=6,
        max_request_body_size=MAX_UPLOAD + (1 << 20),
        # Layings of large models are megabytes: hand them to the socket in large pieces.
        send_bytes=1 << 18,
        outbuf_overflow=1 << 26,
    )
    print(f"Pivrel is at http://{host}:{port}/ (data in {data.resolve()}); stop with Ctrl+C", flush=True)
    server.run()
