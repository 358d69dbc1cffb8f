"""A project as one file: the same on the other machine, and nothing taken on trust."""

import json
import zipfile
from hashlib import sha256
from io import BytesIO

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pivrel.store import archive
from pivrel.store.archive import ArchiveError
from pivrel.store.database import Database
from pivrel.web.app import create_app

ALL = {"all": True}


@pytest.fixture
def packed(cube):
    cube.lay(ALL)
    cube.change(["F1"], turn_by=90)
    cube.lay({"faces": [1]}, "oak")
    cube.step("undo")
    return cube.client.get(f"{cube.path}/handover/project").data


def parts(packed):
    with zipfile.ZipFile(BytesIO(packed)) as file:
        return {name: file.read(name) for name in file.namelist()}


def joined(files):
    out = BytesIO()
    with zipfile.ZipFile(out, "w") as file:
        for name, data in files.items():
            file.writestr(name, data)
    return out.getvalue()


def changed(packed, **changes):
    files = parts(packed)
    files["project.json"] = json.dumps({**json.loads(files["project.json"]), **changes}).encode()
    return joined(files)


def bomb(packed):
    """A file of 600 KB that unpacks to 600 MB of zeros."""
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for name, data in parts(packed).items():
            file.writestr(name, data)
        with file.open("blobs/" + "a" * 64, "w") as entry:
            for _ in range(600):
                entry.write(bytes(1 << 20))
    return out.getvalue()


def repacked(arrays):
    out = BytesIO()
    np.savez_compressed(out, **arrays)
    return out.getvalue()


def with_mesh(packed, change):
    """The file with its mesh changed, under the hash that the new bytes have."""
    files = parts(packed)
    stated = json.loads(files["project.json"])
    with np.load(BytesIO(files.pop("blobs/" + stated["mesh"]))) as held:
        new = change(dict(held))
    if isinstance(new, dict):
        out = BytesIO()
        np.savez(out, **new)
        new = out.getvalue()
    stated["mesh"] = sha256(new).hexdigest()
    return joined({**files, "project.json": json.dumps(stated).encode(), "blobs/" + stated["mesh"]: new})


def test_a_file_of_the_first_version_opens_with_its_history(packed, upload):
    files = parts(packed)
    stated = json.loads(files.pop("project.json"))
    rows = [json.loads(files.pop(name)) for name in sorted(files) if name.startswith("journal/")]
    for row in rows:
        for change in row["changes"]:
            if change.pop("partial", False):
                # The first version kept documents whole on both sides.
                now = next(
                    d for d in stated["documents"] if (d["kind"], d["key"]) == (change["kind"], change["key"])
                )
                for side in ("before", "after"):
                    change[side]["body"] = {**now["body"], **change[side]["body"]}
    old = joined({"project.json": json.dumps({**stated, "pivrel": 1, "journal": rows}).encode(), **files})
    answer = upload("/api/projects", {"a.pivrel": old})
    assert answer.status_code == 201, answer.json


def test_it_opens_elsewhere_as_it_was_with_its_history(packed, cube, tmp_path):
    other = create_app(Database(tmp_path / "other")).test_client()
    sent = {"files": [(BytesIO(packed), "cube.pivrel")]}
    answer = other.post("/api/projects", data=sent, content_type="multipart/form-data")
    assert answer.status_code == 201
    path = f"/api/projects/{answer.json['id']}"
    state = other.get(path).json
    assert state["finishes"] == cube.state["finishes"]
    assert (state["undo"], state["redo"]) == ("turn of Brick", "lay Oak")
    undone = other.post(f"{path}/undo", json={"revision": state["revision"]}).json
    assert undone["finishes"][0]["turn_deg"] == 0
    for _ in range(2):
        undone = other.post(f"{path}/redo", json={"revision": undone["revision"]}).json
    assert [f["name"] for f in undone["finishes"]] == ["Brick", "Oak"]
    assert other.get(f"{path}/handover/glb").status_code == 200
    assert other.get(f"/api/images/{undone['materials']['oak']['images']['base_color']}").status_code == 200


def test_what_cannot_be_trusted_is_refused_and_leaves_nothing(packed, upload, client):
    good = json.loads(parts(packed)["project.json"])
    finish = next(d for d in good["documents"] if d["kind"] == "finish")
    mesh = f"blobs/{good['mesh']}"
    cases = {
        "empty": (b"", "not a project file"),
        "text": (b"hello", "not a project file"),
        "cut": (packed[: len(packed) // 2], "not a project file"),
        "no json": (joined({"a": b""}), "not a project file"),
        "later format": (changed(packed, pivrel=3), "pivrel"),
        "unknown key": (changed(packed, extra=1), "extra"),
        "no mesh": (joined({k: v for k, v in parts(packed).items() if k != mesh}), "lacks bytes"),
        "another mesh": (joined({**parts(packed), mesh: b"PK"}), "lacks bytes"),
        "broken finish": (changed(packed, documents=[{**finish, "body": {**finish["body"], "scale": [0, 1]}}]), "scale"),
        "twice": (changed(packed, documents=good["documents"] * 2), "twice"),
        "no material": (changed(packed, documents=[finish]), "names a material"),
        "broken journal": (changed(packed, journal=[{"seq": 1, "label": "x", "changes": [{"kind": "finish", "after": 5}], "at": ""}]), "journal.0.changes.0"),
        "bomb": (bomb(packed), "claims"),
        "packed arrays": (with_mesh(packed, repacked), "which Pivrel's own never are"),
        "arrays of another kind": (with_mesh(packed, lambda a: {**a, "points": a["points"].astype(complex)}), "not of the kind"),
        "arrays of another shape": (with_mesh(packed, lambda a: {**a, "points": a["points"][None]}), "not of the kind"),
        "far away": (with_mesh(packed, lambda a: {**a, "points": a["points"] * 1e20}), "from the origin"),
    }  # fmt: skip
    before = len(client.get("/api/projects").json)
    for name, (data, word) in cases.items():
        answer = upload("/api/projects", {"a.pivrel": data})
        assert answer.status_code == 422 and word in answer.json["error"], (name, answer.json)
    assert len(client.get("/api/projects").json) == before


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_flipped_bytes_never_crash(data):
    good = joined({"project.json": b'{"pivrel": 1}', "blobs/aa": bytes(50)})
    broken = bytearray(good)
    for at in data.draw(st.lists(st.integers(0, len(broken) - 1), min_size=1, max_size=5)):
        broken[at] = data.draw(st.integers(0, 255))
    with pytest.raises(ArchiveError):
        archive.unpack(BytesIO(bytes(broken)))
