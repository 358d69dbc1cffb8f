"""Who may ask: only the pages of this application, on the names that it answers to.

A page of another site can make a browser send requests here, and a name of its own can be made to lead to this
machine (DNS rebinding). So every request has to name a host that is ours, what another site's page sends is refused,
and where other machines are let in each visitor has to know a token.
"""

from __future__ import annotations

import hmac
import ipaddress
import socket
from dataclasses import dataclass
from urllib.parse import SplitResult, urlsplit

from flask import Flask, Response, abort, make_response, redirect, request
from werkzeug.wrappers import Response as AnyResponse

from pivrel.web.guesses import Guesses

LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
COOKIE = "pivrel_token"
HARMLESS = frozenset({"GET", "HEAD", "OPTIONS"})

MAX_BODY = 16 << 20
"""Bytes of a request that is no upload: a pick of a million faces by ids has half of it."""

TOO_LARGE = f"the request is larger than {MAX_BODY >> 20} MB; files come as uploads"

POLICY = "; ".join(
    (
        "default-src 'self'",
        # The dialogs' library puts rules into the page while one is open.
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' blob: data:",
        "connect-src 'self' blob: data:",
        "worker-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)
"""Content Security Policy (W3C, level 3): nothing is loaded from elsewhere, and no inline script runs."""

HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


@dataclass(frozen=True)
class Door:
    """Whom the application lets in. hosts: names that it answers to. token: what visitors have to know, or None.

    any_address: whether it also answers to every IP address by which it is reached.
    """

    hosts: frozenset[str] = LOOPBACK
    token: str | None = None
    any_address: bool = False

    @classmethod
    def at(cls, host: str, token: str) -> Door:
        """The door of a server at this address: beyond this machine a token is asked for."""
        if is_loopback(host):
            return cls(LOOPBACK | {host.lower()})
        own = {host.lower(), socket.gethostname().lower(), socket.getfqdn().lower()}
        return cls(LOOPBACK | own, token, True)

    def knows(self, host: str) -> bool:
        """Whether a host, without its port, is one of ours."""
        return host in self.hosts or (self.any_address and _is_address(host))


def is_loopback(host: str) -> bool:
    """Whether only this machine can reach the host."""
    return host.lower() == "localhost" or (_is_address(host) and ipaddress.ip_address(host).is_loopback)


def _is_address(host: str) -> bool:
    try:
        ipaddress.ip_address(host)
    except ValueError:
        return False
    return True


def _parts(url: str) -> SplitResult:
    """An address taken apart; an empty one where it cannot be read."""
    try:
        return urlsplit(url)
    except ValueError:
        return urlsplit("")


def keep_door(app: Flask, door: Door) -> None:
    """Refuses what does not come from the application's own pages, and says so in each answer's headers."""

    guesses = Guesses()

    @app.before_request
    def check() -> AnyResponse | None:
        if not door.knows(_parts(f"//{request.host}").hostname or ""):
            abort(403, "this address is not one of Pivrel's; open the one that it printed when it started")
        _refuse_foreign()
        _refuse_large()
        return _ask_token(door.token, guesses) if door.token else None

    @app.after_request
    def say(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response


def _refuse_foreign() -> None:
    """403 for what a page of another site has sent: browsers say so (Fetch Metadata; RFC 6454 for Origin)."""
    foreign = False
    origin = request.headers.get("Origin")
    if origin is not None:
        foreign = _parts(origin).netloc.lower() != request.host.lower()
    site = request.headers.get("Sec-Fetch-Site", "none")
    if site not in ("same-origin", "none") and (
        request.path.startswith("/api") or request.method not in HARMLESS
    ):
        foreign = True
    if foreign:
        abort(403, "this came from a page of another site, so it was refused")


def _refuse_large() -> None:
    upload = request.mimetype == "multipart/form-data"
    if not upload and (request.content_length or 0) > MAX_BODY:
        abort(413, TOO_LARGE)


def _is(shown: str, token: str) -> bool:
    return hmac.compare_digest(shown.encode("utf-8", "surrogatepass"), token.encode())


def _ask_token(token: str, guesses: Guesses) -> AnyResponse | None:
    """Lets in who knows the token: by the address that was printed, then by a cookie; programs by a header."""
    address = request.remote_addr or ""
    wait_s = guesses.wait_s(address)
    if wait_s > 0:
        abort(429, f"too many wrong tokens came from there; try again in {wait_s:.0f} s")
    given = request.args.get("token", "")
    header = request.headers.get("Authorization", "").removeprefix("Bearer ")
    shown = [one for one in (given, request.cookies.get(COOKIE), header) if one]
    if not any(_is(one, token) for one in shown):
        if shown:
            guesses.wrong(address)
        abort(401, "open Pivrel by the address with its token, which it printed when it started")
    guesses.right(address)
    if not _is(given, token):
        return None
    # Two slashes at its beginning would lead to another site.
    response = make_response(redirect("/" + request.path.lstrip("/\\")))
    response.set_cookie(COOKIE, token, httponly=True, samesite="Lax")
    return response
