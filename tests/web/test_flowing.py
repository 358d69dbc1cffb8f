"""What follows the surface, over HTTP: carried through a body, kept by place in a newer model, found again."""

from dataclasses import replace

import numpy as np
import pytest

from pivrel.core.cache import KeepAll
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from pivrel.project.revision import revised
from pivrel.recipe import FinishModel
from pivrel.store import blobs, projects
from pivrel.store.documents import Contents, Document
from pivrel.web.app import create_app
from tests.bent import cone, grid, winding_wall
from tests.conftest import Asking, facts_of
from tests.shapes import CUBE_FACES, cuboid, mesh_of

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
    told = roof.refused(kind="carry_through", finish="F1", pick={"parts": ["Inside"]})
    assert told == "what is laid by box is not carried through: lay the same on the other side"
    roof.change(["F1"], projection={"kind": "flow"})
    told = roof.refused(kind="carry_through", finish="F1", pick={"faces": []})
    assert told.startswith("the pick is empty")
    roof.edit(kind="carry_through", finish="F1", pick={"parts": ["Inside"]})
    # What is draped already is draped on further faces the same way.
    state = roof.edit(kind="carry_through", finish="F2", pick={"parts": ["Inside"]})
    assert state["finishes"][2]["projection"] == state["finishes"][1]["projection"]


def asking(database, client, mesh):
    with database.transaction() as db:
        facts = facts_of("bent.obj", parts=1, triangles=1)
        project = projects.create(db, "bent", blobs.put_mesh(db, mesh), facts)
    return Asking(client, project)


@pytest.mark.parametrize("kind", ["flow", "roll", "lines"])
def test_a_bent_wall_is_set_out_like_a_straight_one(database, client, kind):
    """7,165.2 by 2,400 mm in units of 900 by 600."""
    mesh = grid(winding_wall(), 48, 12).mesh
    wall = asking(database, client, mesh)
    wall.edit(kind="lay", material="brick", pick={"all": True}, projection={"kind": kind})
    corner = mesh.points[mesh.corners[mesh.face_start[0]]].tolist()
    wall.change(["F1"], offset_mm=[123.0, 45.0])
    wall.edit(kind="set_out", face=0, place=corner, at="corner")
    at = np.flatnonzero((mesh.points[mesh.corners] == corner).all(axis=1))
    off = wall.st("F1")[at] / (900.0, 600.0)
    np.testing.assert_allclose(off, np.round(off), atol=1e-4)
    said = wall.edit(kind="balance", finish="F1")["said"]
    assert "cuts of 882.6 mm at both ends, 6 whole between along, 4 whole up" in said
    st = wall.st("F1")
    low, high = st[:, 0].min() % 900, st[:, 0].max() % 900
    assert 900 - low == pytest.approx(high, abs=0.1)
    # Whole courses between the borders.
    np.testing.assert_allclose(st[:, 1].min() % 600 % 599.999, 0, atol=0.01)
    told = wall.refused(kind="follow_grain", finishes=["F1"], grain={"along": "length"})
    assert told.endswith("let its grain follow the sheet or each side's longest edge")


ARROW = {"hold": "borders", "repeats": [1, 1]}


def test_a_picture_runs_once_round_a_sloping_road_and_is_found_again(database, client):
    """From where it is told to begin, as wide as the road, or in its own proportion; after a restart too."""
    place = cone(4000.0, 6000.0, 700.0)
    mesh = grid(place, 96, 8, closed=True).mesh
    road = asking(database, client, mesh)
    start = place(np.array([0.25]), np.array([0.0]))[0].tolist()
    flow = {"kind": "flow", "start": start, **ARROW}
    road.edit(kind="lay", material="brick", pick={"all": True}, projection=flow)

    def once_round():
        st, at = road.st("F1"), mesh.points[mesh.corners]
        begins = np.flatnonzero(np.linalg.norm(at - start, axis=1) < 1e-6)
        assert sorted(np.round(st[begins, 0] % 900).tolist()) in ([0.0, 0.0], [0.0, 900.0])
        return st.min(axis=0), st.max(axis=0)

    low, high = once_round()
    assert high[0] - low[0] == pytest.approx(900.0, abs=0.01)
    assert high[1] - low[1] == pytest.approx(600.0, abs=0.01), "its proportion given up"
    road.change(["F1"], options={"kind": "flow", "proportion": "along"})
    low, high = once_round()
    middle = 2 * np.pi * 5000.0
    width = float(np.hypot(2000.0, 700.0))
    assert high[1] - low[1] == pytest.approx(width * 900.0 / middle, rel=0.01), "its proportion kept"
    road.change(["F1"], options={"kind": "flow", "hold": "size", "limits_mm": [None, 1500]})
    low, high = road.st("F1").min(axis=0), road.st("F1").max(axis=0)
    assert high[1] - low[1] == pytest.approx(1500.0, abs=0.01), "the limit"
    before = road.st("F1")
    again = create_app(database).test_client()
    kept = again.get(road.path).json["finishes"][0]
    assert kept["projection"]["start"] == start and kept["projection"]["limits_mm"] == [None, 1500]
    answer = again.get(f"{road.path}/laying/F1?key={kept['laying_key']}")
    np.testing.assert_array_equal(np.frombuffer(answer.data, "<f4").reshape(-1, 2), before)


def one_part(mesh, name, shift=(0.0, 0.0, 0.0)):
    return replace(mesh, points=mesh.points + shift, part_names=(name,))


WALL = winding_wall()
ALONG = [place.tolist() for place in WALL(np.linspace(0.1, 0.9, 20), np.full(20, 0.4))]
CORNERS = [place.tolist() for place in WALL(np.array([0.0, 0.75, 1.0, 0.0]), np.array([0.0, 0.0, 1.0, 1.0]))]
SHIFT = (250.0, -40.0, 90.0)


@pytest.mark.parametrize(
    "stated",
    [
        {"kind": "flow", "corners": CORNERS, "lines": [{"points": ALONG}]},
        {"kind": "lines", "lines": [{"points": ALONG}], "reach": 0.4},
        {
            "kind": "drape",
            "over": {"faces": list(range(576))},
            "shift_mm": [0, 50, 0],
            "laid": {"kind": "roll", "from": 30},
        },
        {"kind": "drape", "lines": [ALONG, [[x, y, z + 900] for x, y, z in ALONG]]},
        {"kind": "camera", "eye_mm": [3000, -9000, 2000], "target_mm": [3000, 0, 1200]},
        {"kind": "roll", "from": ALONG[3]},
    ],
    ids=lambda stated: stated["kind"],
)
def test_what_a_laying_hangs_on_goes_along_to_a_newer_model(stated):
    """The wall stands elsewhere there, and its faces have other numbers."""
    wall, other = grid(WALL, 48, 12).mesh, one_part(cuboid(300, 200, 100), "Post", (9000, 0, 0))
    old = Surface(merged([one_part(wall, "Wall"), other]))
    new = Surface(merged([other, one_part(wall, "Wall", SHIFT)]))
    tie = {"sheet_mm": [450, 300], "at_mm": ALONG[9]}
    body = FinishModel.model_validate(
        {
            "name": "Brick", "material": "brick", "pick": {"faces": list(range(576))}, "projection": stated,
            "tie": [tie], "turn_deg": 0,
        }
    )  # fmt: skip
    found = revised(Contents({"F1": Document("F1", 1, body)}), old, new).contents.finishes["F1"].body
    brick = Material("brick", (900.0, 600.0), 0.0)
    before, after = (
        Schedule(surface, "mesh", {"F1": finish.to_core(lambda _: brick)}, KeepAll()).laying("F1")
        for surface, finish in ((old, body), (new, found))
    )
    np.testing.assert_allclose(after, before, atol=0.02)
    assert found.tie[0].at_mm == pytest.approx(np.add(ALONG[9], SHIFT), abs=1e-6)


def edge_at(face, *place):
    return {"face": face, "place": list(place)}


def test_an_edge_is_a_line_of_the_grain_a_border_of_a_guide_and_a_direction(cube):
    """Clicks near edges of the top of a cube of 1 m: each means the whole edge, from corner to corner."""
    top, face = {"facing": [0, 0, 1], "within_deg": 5}, CUBE_FACES.index((4, 5, 6, 7))
    front, back = edge_at(face, 400, 3, 1000), edge_at(face, 500, 996, 1000)
    cube.lay(top, projection="lines")
    (line,) = cube.edit(kind="line_along", finishes=["F1"], edge=front)["finishes"][0]["projection"]["lines"]
    assert sorted(line["points"]) == [[0, 0, 1000], [1000, 0, 1000]]
    cube.edit(kind="follow_edge", finishes=["F1"], edge=edge_at(face, 3, 500, 1000))
    grain = cube.state["finishes"][0]["grain"]
    assert [abs(part) for part in grain["direction"]] == pytest.approx([0, 1, 0])
    draped = cube.edit(kind="drape_between", finishes=["F1"], edges=[front, back])["finishes"][0][
        "projection"
    ]
    assert draped["kind"] == "drape"
    assert [sorted(points) for points in draped["lines"]] == [
        [[0, 0, 1000], [1000, 0, 1000]], [[0, 1000, 1000], [1000, 1000, 1000]],
    ]  # fmt: skip
    same = {"finishes": ["F1"], "edges": [front, edge_at(face, 700, 5, 1000)]}
    assert "at the same edge" in cube.refused(kind="drape_between", **same)
    assert "follows no lines" in cube.refused(kind="line_along", finishes=["F1"], edge=front)
