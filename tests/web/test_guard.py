"""Only the application's own pages are answered: foreign hosts, foreign pages and strangers are not."""

import contextlib
import json
import socket
from types import SimpleNamespace

import pytest

from pivrel.store.database import Database
from pivrel.web.app import create_app
from pivrel.web.guard import Door, is_loopback
from pivrel.web.guesses import AGAIN_S, FREE
from tests.serving import Server, free_port

OWN = "http://localhost"


def test_a_name_that_leads_here_but_is_not_ours_reads_and_changes_nothing(client, cube):
    for host in (
        "evil.example",
        "evil.example:8017",
        "localhost.evil.example",
        "127.0.0.1.evil.example",
        "10.0.0.7",
        "[::2]",
        "][",
    ):
        for method, path in (("GET", "/api/projects"), ("GET", "/"), ("DELETE", cube.path)):
            answer = client.open(path, method=method, headers={"Host": host})
            assert answer.status_code in (400, 403), (host, path)
    for host in ("localhost:8017", "127.0.0.1", "[::1]:8017", "LOCALHOST"):
        assert client.get("/api/projects", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9999"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_what_a_page_of_another_site_sends_is_refused(client, cube, headers, upload):
    requests = (
        ("DELETE", cube.path, {}),
        ("POST", "/api/library/brick/duplicate", {}),
        ("POST", f"{cube.path}/undo", {"data": {"revision": "0"}}),
        ("POST", f"{cube.path}/edits", {"data": '{"revision": 0}', "content_type": "text/plain"}),
        ("GET", "/api/projects", {}),
    )
    for method, path, sent in requests:
        answer = client.open(path, method=method, headers=headers, **sent)
        assert answer.status_code == 403 and "another site" in answer.json["error"], (method, path)
    assert client.get(cube.path).status_code == 200


def test_own_pages_and_programs_are_answered(client, cube):
    for headers in ({"Origin": OWN, "Sec-Fetch-Site": "same-origin"}, {"Sec-Fetch-Site": "none"}, {}):
        assert client.post("/api/library/brick/duplicate", headers=headers).status_code == 201
    assert (
        client.post(f"{cube.path}/edits", data='{"revision": 0}', content_type="text/plain").status_code
        == 415
    )


def test_every_answer_says_what_the_page_may_do(client):
    for path in ("/", "/api/projects", "/api/nothing"):
        headers = client.get(path).headers
        policy = headers["Content-Security-Policy"]
        assert (
            "default-src 'self'" in policy and "frame-ancestors 'none'" in policy and "script" not in policy
        )
        assert headers["X-Content-Type-Options"] == "nosniff" and headers["X-Frame-Options"] == "DENY"


def test_beyond_this_machine_a_token_is_asked_for(tmp_path):
    app = create_app(Database(tmp_path), Door.at("0.0.0.0", "secret"))
    client = app.test_client()
    at = {"Host": "192.168.1.5:8017"}
    for path in ("/", "/api/projects", "/?token=wrong", "/api/projects?token="):
        answer = client.get(path, headers=at)
        assert answer.status_code == 401 and "token" in answer.json["error"]
    program = {**at, "Authorization": "Bearer secret"}
    assert client.get("/api/projects", headers=program).status_code == 200
    welcomed = client.get("/projects/3?token=secret", headers=at)
    assert (welcomed.status_code, welcomed.headers["Location"]) == (302, "/projects/3")
    cookie = welcomed.headers["Set-Cookie"]
    assert "HttpOnly" in cookie and "SameSite=Lax" in cookie
    known = {**at, "Cookie": cookie.split(";")[0]}
    assert client.get("/api/projects", headers=known).status_code == 200
    assert client.get("/api/projects", headers={**known, "Host": "evil.example"}).status_code == 403


def test_what_only_this_machine_reaches():
    assert all(is_loopback(h) for h in ("localhost", "127.0.0.1", "127.8.8.8", "::1"))
    assert not any(is_loopback(h) for h in ("0.0.0.0", "::", "192.168.1.1", "example.org"))
    assert Door.at("127.0.0.1", "x").token is None


def test_large_and_endlessly_nested_requests(client, cube):
    path = f"{cube.path}/edits"
    assert client.post(path, data=b"[" * (17 << 20), content_type="application/json").status_code == 413
    for nested in ("[" * 2000 + "]" * 2000, '{"not":' * 70 + "{}" + "}" * 70, "[" * 100_000):
        answer = client.post(path, data=nested, content_type="application/json")
        assert answer.status_code == 400 and "JSON" in answer.json["error"]


@pytest.mark.parametrize("path", ["/api/projects/" + "9" * 31, "/api/" + "x" * 20_000, "/" + "y" * 20_000, "/%00", 
                                  "/api/unknown", "/api", "/api/checker/" + "1" * 400 + ".png", f"/api/projects/{2**63}"])  # fmt: skip
def test_addresses_that_lead_nowhere(client, path):
    answer = client.get(path)
    assert answer.status_code in (200, 308, 404)
    if path.startswith("/api"):
        assert answer.status_code == 404 and answer.json["error"]


@pytest.mark.parametrize("name", ["", ".", "..", "x" * 300 + ".obj", "a\nb.obj"])
def test_names_of_uploads_that_cannot_be(upload, name):
    answer = upload("/api/imports", {name: b"v 0 0 0\n"})
    assert answer.status_code == 422 and answer.json["error"]


def test_guesses_of_the_token_are_slowed(tmp_path, monkeypatch):
    now = [100.0]
    monkeypatch.setattr("pivrel.web.guesses.time", SimpleNamespace(monotonic=lambda: now[0]))
    client = create_app(Database(tmp_path), Door.at("0.0.0.0", "secret")).test_client(use_cookies=False)

    def asked(token, address, cookie=False):
        at = {"Host": "192.168.1.5:8017"} | ({"Cookie": f"pivrel_token={token}"} if cookie else {})
        path = "/api/projects" if cookie else f"/api/projects?token={token}"
        return client.get(path, headers=at, environ_base={"REMOTE_ADDR": address}).status_code

    assert asked("secret", "10.0.0.9") == 302
    guesses = [asked(f"guess-{k}", "10.0.0.1") for k in range(FREE + 5)]
    assert guesses == [401] * FREE + [429] * 5
    assert asked("secret", "10.0.0.1") == 429, "whoever guesses right by then does not learn it"
    assert asked("secret", "10.0.0.2") == 302, "others are let in"
    now[0] += AGAIN_S + 0.1
    assert asked("guess", "10.0.0.1") == 401 and asked("guess", "10.0.0.1") == 429
    # Whoever has shown the token before does not wait for what others at the same address guess.
    assert [asked("no", "10.0.0.9") for _ in range(2 * FREE)] == [401] * 2 * FREE
    assert asked("secret", "10.0.0.9", cookie=True) == 200


def test_without_a_token_nothing_is_counted(tmp_path):
    client = create_app(Database(tmp_path), Door.at("0.0.0.0", "secret")).test_client()
    at = {"Host": "192.168.1.5:8017"}
    assert [client.get("/", headers=at).status_code for _ in range(3 * FREE)] == [401] * 3 * FREE


def test_an_address_that_begins_with_two_slashes_leads_to_no_other_site(tmp_path):
    client = create_app(Database(tmp_path), Door.at("0.0.0.0", "secret")).test_client()
    at = {"Host": "192.168.1.5:8017"}
    for path in ("//evil.example/", "/%5Cevil.example", "/%2Fevil.example"):
        answer = client.get(f"{path}?token=secret", headers=at)
        assert answer.status_code == 302 and not answer.headers["Location"].startswith(("//", "/\\")), path


@pytest.mark.parametrize(
    "where", ["/%ff%fe", "/%00", "/api/%c3%28", "/?token=%ff%00%fe", "/api/projects?token=%0d%0a"]
)
def test_addresses_and_tokens_that_are_no_text_are_answered(tmp_path, client, where):
    strict = create_app(Database(tmp_path), Door.at("0.0.0.0", "secret")).test_client()
    at = {"Host": "192.168.1.5:8017"}
    assert client.get(where).status_code in (200, 400, 404)
    assert strict.get(where, headers=at).status_code in (400, 401)
    for header in (
        {"Cookie": "pivrel_token=\xff\xfe"},
        {"Authorization": "Bearer \xff"},
        {"Authorization": "\xe9" * 99},
    ):
        assert strict.get("/", headers=at | header).status_code in (400, 401), header


class Raw:
    """A request written byte by byte to a real server, and what comes back."""

    def __init__(self, server):
        self.socket = socket.create_connection(("127.0.0.1", server.port), timeout=20)

    def ask(self, head, pieces=()):
        self.socket.sendall(head)
        sent = 0
        try:
            for piece in pieces:
                self.socket.sendall(piece)
                sent += len(piece)
        except OSError:
            pass
        answer = b""
        with contextlib.suppress(OSError):
            while more := self.socket.recv(1 << 16):
                answer += more
        return answer, sent


def test_the_limit_of_a_body_holds_while_it_arrives(tmp_path):
    """A body that states no length was taken in whole, up to a gigabyte, and then refused."""
    server = Server(tmp_path / "data", free_port())
    host = f"Host: 127.0.0.1:{server.port}\r\nContent-Type: application/json\r\n".encode()
    try:
        chunk = b"100000\r\n" + b" " * (1 << 20) + b"\r\n"
        post = b"POST /api/quantity HTTP/1.1\r\n" + host
        answer, sent = Raw(server).ask(post + b"Transfer-Encoding: chunked\r\n\r\n", [chunk] * 200)
        assert answer.startswith(b"HTTP/1.1 413") and b"files come as uploads" in answer
        assert sent < 100 << 20, "the rest was not waited for"
        answer, _ = Raw(server).ask(post + b"Content-Length: 900000000\r\n\r\n")
        assert answer.startswith(b"HTTP/1.1 413") and json.loads(answer.split(b"\r\n\r\n")[-1])["error"]
        for head, code in (
            (b"GET / HTTP/1.1\r\n" + b"X: " + b"y" * 300_000 + b"\r\n\r\n", b"431"),
            (b"GET / HTTP/1.1\r\nno header\r\n\r\n", b"400"),
            (post + b"Content-Length: x\r\n\r\n", b"400"),
        ):
            answer, _ = Raw(server).ask(head)
            assert answer.split()[1] == code and json.loads(answer.split(b"\r\n\r\n")[-1])["error"], head[:60]
        assert server.ask("POST", "/api/quantity", {"text": "1 m", "kind": "length"}) == {"value": 1000.0}
    finally:
        server.kill()
