"""A page of another site, and a name of another site that leads here: neither reads nor changes anything."""

import threading
from http.server import BaseHTTPRequestHandler, HTTPServer

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from tests.browser.browser import FLAGS

ATTACK = """
const done = arguments[arguments.length - 1];
const at = arguments[0];
const tries = [
  () => fetch(at + "/api/projects").then((r) => r.text()),
  () => fetch(at + "/api/projects/1", { method: "DELETE" }).then((r) => r.text()),
  () => fetch(at + "/api/projects/1/undo", { method: "POST", body: '{"revision": 0}', mode: "no-cors" }).then((r) => r.text()),
  () => fetch(at + "/api/library/brick/duplicate", { method: "POST", mode: "no-cors" }).then((r) => r.text()),
  () => new Promise((loaded) => { const i = new Image(); i.onload = () => loaded("seen"); i.onerror = () => loaded("");
                                  i.src = at + "/api/projects/1/picture.jpg"; }),
];
const form = document.createElement("form");
form.method = "post";
form.action = at + "/api/library/brick/duplicate";
form.target = "nowhere";
document.body.append(Object.assign(document.createElement("iframe"), { name: "nowhere" }), form);
form.submit();
Promise.all(tries.map((t) => t().catch((e) => ""))).then((seen) => setTimeout(() => done(seen), 1000));
"""


class Page(BaseHTTPRequestHandler):
    def do_GET(self):
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(b"<!doctype html><title>Elsewhere</title><body>")

    def log_message(self, *_):
        pass


def state(server):
    return server.ask("GET", "/api/projects"), [m["key"] for m in server.ask("GET", "/api/library")]


def test_a_foreign_page_reads_and_changes_nothing(server):
    options = webdriver.ChromeOptions()
    for argument in (*FLAGS, "--host-resolver-rules=MAP evil.test 127.0.0.1, MAP rebound.test 127.0.0.1"):
        options.add_argument(argument)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    elsewhere = HTTPServer(("127.0.0.1", 0), Page)
    threading.Thread(target=elsewhere.serve_forever, daemon=True).start()
    before = state(server)
    try:
        # Another site asks the address that everybody knows.
        driver.get(f"http://evil.test:{elsewhere.server_port}/")
        seen = driver.execute_async_script(ATTACK, server.address)
        assert not any(seen), seen
        # A name of another site leads here: to the browser it is one site with its own page.
        rebound = f"http://rebound.test:{server.port}"
        driver.get(rebound)
        assert "this address is not one of Pivrel's" in driver.page_source
        seen = driver.execute_async_script(ATTACK, rebound)
        assert all(not text or "not one of Pivrel's" in text for text in seen), seen
        assert state(server) == before
        # The same page asked by its own address is answered.
        driver.get(server.address)
        assert driver.execute_async_script("fetch('/api/projects').then((r) => r.json()).then(arguments[0])")
    finally:
        driver.quit()
        elsewhere.shutdown()
