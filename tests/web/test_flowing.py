"""What follows the surface, over HTTP: carried through a body, kept by place in a newer model, found again."""

import numpy as np
import pytest

from pivrel.store import blobs, projects
from tests.bent import grid
from tests.conftest import Asking, facts_of
from tests.shapes import mesh_of

RADIUS, THICK = 2000.0, 120.0


def vault(radius):
    """Half a barrel, its outside up."""

    def place(u, v):
        a = np.pi * v
        return np.column_stack([5000 * u, -radius * np.cos(a), radius * np.sin(a)])

    return grid(place, 20, 48).mesh


def shell():
    """A barrel roof of some thickness: its outside, and its inside wound the other way."""
    outside, inside = vault(RADIUS), vault(RADIUS - THICK)
    count = len(outside.points)
    faces = [outside.corners[a : a + 4] for a in outside.face_start[:-1]]
    faces += [inside.corners[a : a + 4][::-1] + count for a in inside.face_start[:-1]]
    parts = [0] * outside.face_count + [1] * inside.face_count
    return mesh_of(np.concatenate([outside.points, inside.points]), faces, ("Outside", "Inside"), parts)


@pytest.fixture
def roof(database, client):
    with database.transaction() as db:
        facts = facts_of("roof.obj", parts=2, triangles=1)
        project = projects.create(db, "roof", blobs.put_mesh(db, shell()), facts)
    return Asking(client, project)


def refused(asking, **edit):
    answer = asking.client.post(
        f"{asking.path}/edits", json={"revision": asking.state["revision"], "edit": edit}
    )
    assert answer.status_code == 422, answer.json
    return answer.json["error"]


@pytest.mark.parametrize("kind", ["flow", "lines", "roll"])
def test_the_back_takes_the_same_laying_through_the_body(roof, kind):
    """Courses meet within 1 mm where the two sides end."""
    laid = {"kind": kind}
    roof.edit(kind="lay", material="brick", pick={"parts": ["Outside"]}, projection=laid)
    roof.change(["F1"], turn_deg=30.0)
    state = roof.edit(kind="carry_through", finish="F1", pick={"parts": ["Inside"]})
    front, back = state["finishes"]
    assert back["projection"]["kind"] == "drape" and back["projection"]["laid"]["kind"] == kind
    assert back["turn_deg"] == 30.0 and back["scale"] == [-1, 1] and back["name"] == "Brick 2"
    figures = roof.client.get(f"{roof.path}/figures").json
    assert figures["F2"]["mirrored_m2"] == 0 and figures["F2"]["seams_m"] == 0
    # Beside each other at the eaves: the same height on the sheet.
    mesh = shell()
    places = mesh.points[mesh.corners]
    (one, other) = (roof.st(key)[:, 1] for key in ("F1", "F2"))
    half = len(places) // 2
    eaves = np.flatnonzero(np.abs(places[:half, 2]) < 1e-6)
    for corner in eaves:
        wanted = places[corner] * (1, 1 - THICK / RADIUS, 1)
        beside = np.flatnonzero(np.linalg.norm(places[half:] - wanted, axis=1) < 1e-6)
        assert np.abs(other[beside] - one[corner]).max() < 1.0
    assert front["area_m2"] > back["area_m2"] > 0


def test_what_cannot_be_carried_through_says_why(roof):
    roof.edit(kind="lay", material="brick", pick={"parts": ["Outside"]}, projection={"kind": "box"})
    told = refused(roof, kind="carry_through", finish="F1", pick={"parts": ["Inside"]})
    assert told == "what is laid by box is not carried through: lay the same on the other side"
    roof.change(["F1"], projection={"kind": "flow"})
    told = refused(roof, kind="carry_through", finish="F1", pick={"faces": []})
    assert told.startswith("the pick is empty")
    roof.edit(kind="carry_through", finish="F1", pick={"parts": ["Inside"]})
    # What is draped already is draped on further faces the same way.
    state = roof.edit(kind="carry_through", finish="F2", pick={"parts": ["Inside"]})
    assert state["finishes"][2]["projection"] == state["finishes"][1]["projection"]
