"""Only the application's own pages are answered: foreign hosts, foreign pages and strangers are not."""

import pytest

from pivrel.store.database import Database
from pivrel.web.app import create_app
from pivrel.web.guard import Door, is_loopback

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
