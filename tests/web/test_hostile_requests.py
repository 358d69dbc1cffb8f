"""No request makes the server fail: what cannot be done is told in a sentence, and nothing of it is kept."""

from io import BytesIO

import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.web.app import create_app
from tests.conftest import Asking, make_cube
from tests.lengths import at_length
from tests.web.hostile import BODILESS, MODELS, PATH_VALUES, QUERIES, UPLOADS, body_of, schema_of

EXAMPLES = at_length(250, 5000)
IMAGE = encode(np.full((2, 2, 3), 0.5)).data


@pytest.fixture(scope="module")
def served(tmp_path_factory):
    """An application with a small project that has a bit of everything, and an own material."""
    database = Database(tmp_path_factory.mktemp("hostile"))
    with database.transaction() as db:
        images = {"base_color": encode(np.full((32, 48, 3), 0.5))}
        for at, key in enumerate(("brick", "oak", "own")):
            body = {"name": key, "repeat_mm": [900, 600], "grain_deg": 0, "metallic": 0, "use": "wall", "own": key == "own",
                    "images": blobs.put_images(db, images)}  # fmt: skip
            projects.put_library(db, key, at, LibraryBody.model_validate(body))
        make_cube(db)
    app = create_app(database)
    client = app.test_client()
    cube = Asking(client, 1)
    cube.lay({"all": True})
    cube.lay({"faces": [1, 2]}, "oak", "planar")
    cube.edit(kind="keep_pick", name="top", pick={"faces": [1]})
    return app, client


def addresses(app):
    """(endpoint, method, pieces of the address) of every route."""
    out = []
    for rule in app.url_map.iter_rules():
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            out.append((rule.endpoint, method, rule))
    return sorted(out, key=lambda row: (row[0], row[1]))


def draw_request(data, app):
    every = addresses(app)
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
    path = rule.rule
    for name, converter in rule._converters.items():
        kind = "int" if converter.regex == r"\d+" else "default"
        # Mostly what is there, so that something happens.
        there = {"project_id": "1", "finish": "F1", "key": "own", "kind": "glb"}.get(name)
        value = there if there and data.draw(st.integers(0, 9)) < 9 else data.draw(PATH_VALUES[kind])
        for stated in (f"<int:{name}>", f"<{name}>", f"<path:{name}>"):
            path = path.replace(stated, value)
    return endpoint, method, path


@pytest.mark.slow
@settings(
    # The same requests each time: whoever changes a route changes them.
    derandomize=True,
    max_examples=EXAMPLES,
    deadline=None,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
@given(st.data())
def test_no_request_makes_the_server_fail(served, data):
    app, client = served
    endpoint, method, path = draw_request(data, app)
    sent = {}
    if endpoint in MODELS:
        sent["json"] = data.draw(body_of(endpoint))
        if endpoint.startswith("edits.") and isinstance(sent["json"], dict) and data.draw(st.booleans()):
            sent["json"]["revision"] = client.get("/api/projects/1/pulse").json["revision"]
    elif endpoint in UPLOADS:
        names = st.sampled_from(
            [
                "a.obj",
                "a.glb",
                "a.pivrel",
                "x.png",
                "",
                ".",
                "..",
                "x" * 300 + ".obj",
                "a\nb.obj",
                "\ud800.obj",
            ]
        )
        content = st.one_of(
            st.binary(max_size=60), st.just(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"), st.just(IMAGE)
        )
        files = data.draw(st.lists(st.tuples(content, names), max_size=3))
        sent["data"] = {"files": [(BytesIO(c), n.encode("utf-8", "surrogatepass").decode("latin-1")) for c, n in files],
                        "tolerance_mm": data.draw(st.sampled_from(["", "1", "nan", "1e400"]))}  # fmt: skip
        sent["content_type"] = "multipart/form-data"
    elif method != "GET" and endpoint not in BODILESS:
        sent["data"] = data.draw(st.binary(max_size=20))
    # The project stays, so that the next request meets it.
    assume(not (method == "DELETE" and path == "/api/projects/1"))
    assume(not (endpoint == "library.delete" and "/own" in path))
    answer = client.open(path, method=method, query_string=data.draw(QUERIES), **sent)
    assert answer.status_code < 500, (method, path, sent, answer.json)
    if answer.status_code >= 400 and path.startswith("/api/"):
        assert answer.is_json and answer.json["error"], (method, path)
    if endpoint == "imports.start" and answer.status_code == 202:
        client.delete(f"/api/imports/{answer.json['id']}")
    if endpoint == "library.upload" and answer.status_code == 201:
        client.delete(f"/api/library/{answer.json['key']}")
    if client.get("/api/projects/1").status_code != 200:
        raise AssertionError("the project cannot be opened any more")


def unbounded(schema, where=""):
    """Where a JSON Schema takes numbers of any size."""
    if isinstance(schema, list):
        return [found for k, held in enumerate(schema) for found in unbounded(held, f"{where}/{k}")]
    if not isinstance(schema, dict):
        return []
    least, most = {"minimum", "exclusiveMinimum"}, {"maximum", "exclusiveMaximum"}
    free = schema.get("type") == "number" and not (least & schema.keys() and most & schema.keys())
    within = [found for k, held in schema.items() for found in unbounded(held, f"{where}/{k}")]
    return [where, *within] if free else within


@pytest.mark.parametrize("endpoint", MODELS)
def test_every_number_of_a_request_has_bounds(endpoint):
    assert unbounded(schema_of(endpoint)) == []
