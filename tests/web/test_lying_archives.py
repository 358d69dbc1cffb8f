"""Archives that lie, sent to a real server: each is told in a sentence, none takes much memory, and an honest one opens."""

import io
import json
import urllib.error
import zipfile
from hashlib import sha256

import numpy as np
import pytest

from pivrel.store.meshes import mesh_data
from tests.formats import lying
from tests.lengths import at_length
from tests.serving import Server, free_port
from tests.shapes import cuboid

MOST_GROWN = 300 << 20


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    server = Server(tmp_path_factory.mktemp("lying") / "data", free_port())
    # What every opening loads is there before memory is looked at.
    server.upload("/api/projects", {"a.pivrel": project_file({})})
    yield server
    server.kill()


def project_file(more):
    """A project of a cube, with more entries."""
    mesh = mesh_data(cuboid())
    name = sha256(mesh).hexdigest()
    facts = {"file": "a.obj", "unit": "mm", "up": "z", "found": [], "parts": 1, "triangles": 12}
    stated = {"pivrel": 2, "name": "cube", "mesh": name, "model": facts, "cursor": 0, "documents": []}
    return lying.honest({"project.json": json.dumps(stated).encode(), f"blobs/{name}": mesh, **more})


def sent(server, path, name, data):
    """Status and sentence of an upload."""
    try:
        server.upload(path, {name: data})
    except urllib.error.HTTPError as refused:
        return refused.code, json.loads(refused.read())["error"]
    return 201, ""


def test_lying_archives_are_told_in_a_sentence_and_take_little_memory(server):
    lies = [
        ("/api/projects", f"{k}.pivrel", *row) for k, row in enumerate(lying.every("project.json").items())
    ]
    lies += [("/api/library", f"{k}.zip", *row) for k, row in enumerate(lying.every("material.json").items())]
    assert len(lies) >= 30
    idle = server.memory()
    for path, name, what, data in lies:
        status, said = sent(server, path, name, data)
        assert status in (400, 422) and said and "\n" not in said, (path, what, status, said)
    assert server.memory("VmHWM") - idle < MOST_GROWN
    assert server.ask("GET", "/api/projects/1")["name"] == "cube"


def test_an_honest_archive_of_many_bytes_opens(server):
    """Of 30 MB, or of 900: noise, which cannot be packed."""
    noise = np.random.default_rng(1).integers(0, 255, at_length(30, 900) << 20, np.uint8).tobytes()
    status, said = sent(
        server, "/api/projects", "large.pivrel", project_file({f"blobs/{sha256(noise).hexdigest()}": noise})
    )
    assert status == 201, said


def test_what_the_names_of_a_material_lead_to_is_refused_before_anything_is_unpacked(upload):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_BZIP2) as packed:
        packed.writestr("a_color.png", b"x")
    said = upload("/api/library", {"a.zip": made.getvalue()}).json["error"]
    assert "packed by bzip2" in said and "stored or deflated" in said
