"""Hostile requests to a real server for some time: `python -m tests.web.hostile_run ADDRESS SECONDS SEED IDS...`.

Prints one JSON object: how many were sent, and what was answered with a fault.
"""

from __future__ import annotations

import json
import sys
import time
import urllib.error
import urllib.request
from types import SimpleNamespace
from typing import Any
from urllib.parse import quote, urlencode

from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st
from urllib3 import encode_multipart_formdata

from tests.web.test_hostile_requests import APP, draw_request, let_go, sent_with

AT_A_TIME = 200


class Client:
    """What the test client of an application does, over HTTP."""

    def __init__(self, address: str) -> None:
        self.address = address

    def get(self, path: str) -> Any:
        return self.open(path, "GET")

    def delete(self, path: str) -> Any:
        return self.open(path, "DELETE")

    def open(
        self,
        path: str,
        method: str,
        query_string: Any = None,
        json: Any = None,
        data: Any = None,
        content_type: str = "",
    ) -> Any:
        url = self.address + quote(path, safe="/%") + (f"?{urlencode(query_string)}" if query_string else "")
        body, kind = body_of(json, data, content_type)
        request = urllib.request.Request(url, body, {"Content-Type": kind} if kind else {}, method=method)
        try:
            with urllib.request.urlopen(request, timeout=300) as answer:
                return told(answer.status, answer.read())
        except urllib.error.HTTPError as refused:
            return told(refused.code, refused.read())


def body_of(value: Any, data: Any, content_type: str) -> tuple[bytes | None, str]:
    """A request's body and its kind."""
    if value is not None:
        return json.dumps(value).encode(), "application/json"
    if content_type:
        fields = [
            ("files", (name, file.read(), "application/octet-stream")) for file, name in data.pop("files")
        ]
        return encode_multipart_formdata([*fields, *data.items()])
    return data, "application/octet-stream" if data else ""


def told(status: int, body: bytes) -> Any:
    """An answer with its JSON, where it is some."""
    try:
        return SimpleNamespace(status_code=status, json=json.loads(body))
    except ValueError:
        return SimpleNamespace(status_code=status, json=None)


def main() -> None:
    """Sends until the time is over."""
    address, seconds, first = sys.argv[1], float(sys.argv[2]), int(sys.argv[3])
    ids = [int(number) for number in sys.argv[4:]]
    client, until, sent_so_far = Client(address), time.monotonic() + seconds, 0
    faults: list[str] = []

    def some(number: int) -> None:
        @seed(number)
        @settings(
            max_examples=AT_A_TIME, deadline=None, phases=[Phase.generate], database=None,
            suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        @given(st.data())
        def attack(data: Any) -> None:
            nonlocal sent_so_far
            endpoint, method, path, project = draw_request(data, APP, ids)
            sent = sent_with(data, client, endpoint, method, project)
            # Whatever the clock says, the same is drawn: Hypothesis holds that against a test otherwise.
            if time.monotonic() > until or (method == "DELETE" and ("/projects/" in path or "/own" in path)):
                return
            try:
                answer = client.open(path, method=method, **sent)
            except (UnicodeError, ValueError):
                # What cannot be written as an address at all.
                return
            sent_so_far += 1
            if answer.status_code >= 500 and answer.status_code not in (503, 507):
                faults.append(f"{answer.status_code} {method} {path} {sent} {answer.json}"[:3000])
            let_go(client, endpoint, answer)

        attack()

    while time.monotonic() < until:
        some(first)
        first += 1
    print(json.dumps({"sent": sent_so_far, "faults": faults}))


if __name__ == "__main__":
    main()
