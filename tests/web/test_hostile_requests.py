"""No request makes the server fail: what cannot be done is told in a sentence, and nothing of it is kept.

After all of them every project opens, and every address of it answers.
"""

import json
import tempfile
import time
from io import BytesIO
from pathlib import Path

import numpy as np
import PIL.Image
import PIL.PngImagePlugin
import pytest
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st
from pydantic import BaseModel
from tools.soak import ROUTES

from pivrel.materials.images import encode
from pivrel.recipe import RecipeModel
from pivrel.store.archive import JournalRow, ProjectFile
from pivrel.store.database import Database
from pivrel.store.documents import CoatSetBody, LibraryBody
from pivrel.web.app import create_app
from tests.lengths import FULL, at_length
from tests.web.attacked import attacked, what_fails
from tests.web.hostile import BODILESS, PATH_VALUES, QUERIES, UPLOADS, body_of, models, queries, schema_of

EXAMPLES = at_length(200, 20_000)
IMAGE = encode(np.full((2, 2, 3), 0.5)).data

APP = create_app(Database(Path(tempfile.mkdtemp(prefix="pivrel-routes-"))))
MODELS, QUERY_MODELS = models(APP), queries(APP)
"""What the routes say of the requests that they take."""


@pytest.fixture(scope="module")
def served(tmp_path_factory, filled):
    """The projects that are attacked."""
    return attacked(tmp_path_factory.mktemp("hostile") / "data", filled)


def routes(app):
    """(endpoint, method, rule) of every route."""
    out = []
    for rule in app.url_map.iter_rules():
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            out.append((rule.endpoint, method, rule))
    return sorted(out, key=lambda row: (row[0], row[1]))


def draw_request(data, app, ids):
    every = routes(app)
    # Half of all requests are of those that carry most.
    some = data.draw(
        st.sampled_from(
            [
                every,
                [row for row in every if row[0] in MODELS],
                [row for row in every if row[0] == "edits.edit"],
            ]
        )
    )
    endpoint, method, rule = data.draw(st.sampled_from(some))
    # Half of them to the two small projects; those of the demo are larger.
    project = str(data.draw(st.one_of(st.sampled_from(ids[:2]), st.sampled_from(ids))))
    path = rule.rule
    for name, converter in rule._converters.items():
        kind = "int" if converter.regex == r"\d+" else "default"
        # Mostly what is there, so that something happens.
        there = {"project_id": [project], "finish": ["F1", "F2", "F3", "F4", "F7", "F9"], "key": ["own"],
                 "kind": ["glb", "obj", "svg", "dxf"], "number": ["0", "1"], "row": ["0", "1"], "face": ["0", "5"],
                 "by": ["parts", "storeys"]}.get(name)  # fmt: skip
        value = (
            data.draw(st.sampled_from(there))
            if there and data.draw(st.integers(0, 9)) < 9
            else data.draw(PATH_VALUES[kind])
        )
        for stated in (f"<int:{name}>", f"<{name}>", f"<path:{name}>"):
            path = path.replace(stated, value)
    return endpoint, method, path, project


NAMES = ["a.obj", "a.glb", "a.pivrel", "x.png", "", ".", "..", "x" * 300 + ".obj", "a\nb.obj", "\ud800.obj"]


def painted(note):
    """A picture to be taken for a painted one, with what it notes."""
    said, out = PIL.PngImagePlugin.PngInfo(), BytesIO()
    said.add_text("Pivrel", note)
    PIL.Image.new("RGB", (30, 20)).save(out, "PNG", pnginfo=said)
    return out.getvalue()


CONTENTS = st.one_of(
    st.binary(max_size=60),
    st.just(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"),
    st.just(IMAGE),
    st.sampled_from(["", "[" * 500, '{"low_mm": [0, 0], "size_mm": [1e300, 1e-300], "laying": ""}']).map(
        painted
    ),
)


def as_query(value):
    """JSON as the query of an address has it: text by name."""
    if not isinstance(value, dict):
        return {}
    return {k: str(v).encode("utf-8", "replace").decode() for k, v in value.items() if v is not None}


def sent_with(data, client, endpoint, method, project):
    """What a request carries, as the test client takes it."""
    query = data.draw(QUERIES)
    if endpoint in QUERY_MODELS and data.draw(st.integers(0, 3)):
        query = as_query(data.draw(body_of(QUERY_MODELS[endpoint])))
    sent = {"query_string": query}
    if endpoint in MODELS:
        sent["json"] = data.draw(body_of(MODELS[endpoint]))
        if endpoint.startswith("edits.") and isinstance(sent["json"], dict) and data.draw(st.integers(0, 3)):
            sent["json"]["revision"] = client.get(f"/api/projects/{project}/pulse").json["revision"]
    elif endpoint in UPLOADS:
        files = data.draw(st.lists(st.tuples(CONTENTS, st.sampled_from(NAMES)), max_size=3))
        sent["data"] = {"files": [(BytesIO(c), n.encode("utf-8", "surrogatepass").decode("latin-1")) for c, n in files],
                        "tolerance_mm": data.draw(st.sampled_from(["", "1", "nan", "1e400"]))}  # fmt: skip
        sent["content_type"] = "multipart/form-data"
    elif method != "GET" and endpoint not in BODILESS:
        sent["data"] = data.draw(st.binary(max_size=20))
    return sent


def let_go(client, endpoint, answer):
    """Ends what a request has begun, so that a thousand of them leave nothing behind."""
    if endpoint == "imports.start" and answer.status_code == 202:
        client.delete(f"/api/imports/{answer.json['id']}")
    if endpoint == "baking.plan" and answer.status_code == 202:
        client.delete(f"/api/bakes/{answer.json['id']}")
    if endpoint in ("library.upload", "library.duplicate", "library.seamless") and answer.status_code == 201:
        client.delete(f"/api/library/{answer.json['key']}")
    if endpoint == "flat.painted" and answer.status_code == 201:
        client.delete(f"/api/library/{answer.json['material']}")


@pytest.mark.slow
@pytest.mark.timeout(at_length(900, 4 * 3600))
def test_no_request_makes_the_server_fail_and_afterwards_everything_answers(served):
    app, client, ids = served
    costs: dict[str, float] = {}

    @settings(
        # The same requests each time: whoever changes a route changes them.
        derandomize=True,
        max_examples=EXAMPLES,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(st.data())
    def attack(data):
        endpoint, method, path, project = draw_request(data, app, ids)
        sent = sent_with(data, client, endpoint, method, project)
        # The projects stay, so that the next request meets them.
        assume(not (method == "DELETE" and path.startswith("/api/projects/")))
        assume(not (endpoint == "library.delete" and "/own" in path))
        begun = time.process_time()
        answer = client.open(path, method=method, **sent)
        costs[endpoint] = max(costs.get(endpoint, 0.0), time.process_time() - begun)
        assert answer.status_code < 500, (method, path, sent, answer.json)
        if answer.status_code >= 400 and path.startswith("/api/"):
            assert answer.is_json and answer.json["error"], (method, path)
        let_go(client, endpoint, answer)
        opened = client.get(f"/api/projects/{project}")
        assert opened.status_code == 200, (
            "the project cannot be opened any more",
            method,
            path,
            sent,
            opened.json,
        )

    attack()
    if FULL:
        ROUTES.parent.mkdir(exist_ok=True)
        ROUTES.write_text(json.dumps(costs))
    for project in ids[: at_length(2, len(ids))]:
        assert what_fails(app, client, project) == []
    # And once more as they were written, by a server that was started anew.
    fresh = create_app(Database(app.extensions["pivrel"].database.path.parent))
    for project in ids:
        assert fresh.test_client().get(f"/api/projects/{project}").status_code == 200


def test_every_route_that_takes_something_is_drawn():
    taking = {endpoint for endpoint, method, _ in routes(APP) if method in ("POST", "PATCH", "PUT")}
    assert taking == MODELS.keys() | UPLOADS | BODILESS
    assert {"edits.edit", "edits.undo", "baking.plan", "tape.tape", "coat_sets.keep"} <= MODELS.keys()
    assert QUERY_MODELS.keys() == {
        "flat.picture",
        "flat.painted",
        "pattern.pattern",
        "pattern.boards",
        "imports.progress",
        "imports.picture",
    }


def unbounded(schema, where=""):
    """Where a JSON Schema takes numbers, texts, lists or objects of any size."""
    if isinstance(schema, list):
        return [found for k, held in enumerate(schema) for found in unbounded(held, f"{where}/{k}")]
    if not isinstance(schema, dict):
        return []
    least, most = {"minimum", "exclusiveMinimum"}, {"maximum", "exclusiveMaximum"}
    kind, stated = schema.get("type"), {"enum", "const"} & schema.keys()
    free = {
        "number": not (least & schema.keys() and most & schema.keys()),
        "integer": not (least & schema.keys() and most & schema.keys()),
        "string": "maxLength" not in schema,
        "array": "maxItems" not in schema,
        "object": not {"properties", "maxProperties"} & schema.keys(),
    }.get(kind if isinstance(kind, str) else "", False) and not stated
    within = [
        found
        for k, held in schema.items()
        if k not in ("default", "examples", "const", "enum")
        for found in unbounded(held, f"{where}/{k}")
    ]
    return [where, *within] if free else within


FILES: dict[str, type[BaseModel]] = {
    "recipe": RecipeModel,
    "project": ProjectFile,
    "edit": JournalRow,
    "material": LibraryBody,
    "coats": CoatSetBody,
}


BOUND = {**MODELS, **QUERY_MODELS, **FILES}


@pytest.mark.parametrize("model", BOUND.values(), ids=list(BOUND))
def test_every_length_and_count_that_is_asked_or_read_has_bounds(model):
    assert unbounded(schema_of(model)) == []


def test_the_bounds_are_looked_at_as_they_should_be():
    class Free(LibraryBody):
        note: str = ""
        some: list[float]

    assert unbounded(schema_of(Free)) == ["/properties/note", "/properties/some", "/properties/some/items"]
