"""The flat view over HTTP: pieces, how they are moved by hand, and cuts that are picked."""

import io
import itertools
import zipfile

import numpy as np
import pytest
import shapely
from ezdxf import filemanagement

from pivrel.store import blobs, projects
from tests.conftest import Asking, facts_of
from tests.shapes import cuboid

WIDE, DEEP, HIGH = 600.0, 400.0, 300.0


class Flattened(Asking):
    """A box flattened on its own."""

    def flat(self, finish="F1"):
        return self.packet(f"flat/{finish}")

    @property
    def boxes(self):
        """The boxes of the pieces by their first faces."""
        return {piece["face"]: np.array(piece["box_mm"]) for piece in self.flat()[0]["pieces"]}


@pytest.fixture
def box(database, client):
    with database.transaction() as db:
        facts = facts_of("box.obj", parts=1, triangles=12)
        project = projects.create(db, "box", blobs.put_mesh(db, cuboid(WIDE, DEEP, HIGH)), facts)
    asking = Flattened(client, project)
    projection = {"kind": "flatten", "cuts": "creases"}
    asking.edit(kind="lay", material="oak", pick={"all": True}, projection=projection)
    return asking


def one(face):
    return {"faces": [face]}


def test_the_pieces_of_a_box_lie_true_and_apart(box):
    header, arrays = box.flat()
    assert len(header["pieces"]) == 6 and header["overlap_m2"] == 0
    assert sum(p["area_m2"] for p in header["pieces"]) == pytest.approx(
        2 * (WIDE * DEEP + WIDE * HIGH + DEEP * HIGH) / 1e6
    )
    assert all(p["size"] == pytest.approx(1.0) and p["faces"] == 1 for p in header["pieces"])
    assert arrays["faces"].tolist() == list(range(6)) and sorted(arrays["piece"].tolist()) == list(range(6))
    assert len(arrays["st"]) == 48 and len(arrays["rims"]) == 24 * 4
    sides = np.hypot(*(arrays["rims"].reshape(-1, 2, 2)[:, 1] - arrays["rims"].reshape(-1, 2, 2)[:, 0]).T)
    assert set(np.round(sides).tolist()) == {WIDE, DEEP, HIGH}


def test_bare_faces_of_the_same_part_stand_aside(box):
    box.edit(kind="set_pick", finishes=["F1"], pick={"faces": [0, 2, 4]})
    header, arrays = box.flat()
    assert len(header["pieces"]) == 3 and header["bare_faces"] == 3
    assert header["bare_m2"] == pytest.approx(sum(p["area_m2"] for p in header["pieces"]))
    assert arrays["faces"].tolist() == [0, 2, 4, 1, 3, 5]
    assert sorted(arrays["piece"].tolist()) == list(range(6))
    right = max(p["box_mm"][2] for p in header["pieces"])
    aside = arrays["st"].reshape(-1, 2)[12:]
    assert aside[:, 0].min() > right, "right of the pieces"
    sides = [sorted(np.round(np.ptp(aside[4 * k : 4 * k + 4], axis=0))) for k in range(3)]
    assert sorted(sides) == sorted(sorted(side) for side in ((WIDE, DEEP), (WIDE, HIGH), (DEEP, HIGH)))
    assert header["overlap_m2"] == 0


def test_every_projection_has_pieces(box):
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "box"})
    header, _ = box.flat()
    assert sum(p["faces"] for p in header["pieces"]) == 6
    # Two sides look each way, and a box lays them over each other or beside.
    assert header["overlap_m2"] >= 0
    assert box.client.get(f"{box.path}/flat/F9").status_code == 404


def test_pieces_are_moved_turned_flipped_and_sized(box):
    before = box.boxes
    box.edit(kind="move_pieces", finish="F1", pick=one(2), shift_mm=["1m", "-0.25 m"])
    after = box.boxes
    for face in range(6):
        shift = [1000, -250, 1000, -250] if face == 2 else 0
        np.testing.assert_allclose(after[face], before[face] + shift, atol=1e-3)
    box.edit(kind="move_pieces", finish="F1", pick=one(2), turn_by=90)
    turned = box.boxes[2]
    size = after[2][2:] - after[2][:2]
    np.testing.assert_allclose(turned[2:] - turned[:2], size[::-1], atol=1e-3)
    np.testing.assert_allclose(turned[:2] + turned[2:], after[2][:2] + after[2][2:], atol=1e-3)
    state = box.edit(kind="move_pieces", finish="F1", pick=one(2), size="92%")
    (piece,) = [p for p in box.flat()[0]["pieces"] if p["face"] == 2]
    assert piece["size"] == pytest.approx(0.92)
    # Typed again it is the same size, not 92 % of it.
    box.edit(kind="move_pieces", finish="F1", pick=one(2), size=0.92)
    (piece,) = [p for p in box.flat()[0]["pieces"] if p["face"] == 2]
    assert piece["size"] == pytest.approx(0.92)
    assert state["finishes"][0]["adjust"][0]["size"] == pytest.approx(0.92)
    box.edit(kind="move_pieces", finish="F1", pick=one(2), flipped=True)
    assert box.state["finishes"][0]["adjust"][0]["mirrored"] is True
    # The same size once more was no edit.
    for _ in range(4):
        box.step("undo")
    for face, was in before.items():
        np.testing.assert_allclose(box.boxes[face], was, atol=1e-6)


def test_two_pieces_turn_as_one(box):
    pick = {"faces": [0, 1]}
    before = box.boxes
    box.edit(kind="move_pieces", finish="F1", pick=pick, turn_by=90)
    after = box.boxes

    def middle(boxes):
        low = np.minimum(boxes[0][:2], boxes[1][:2])
        high = np.maximum(boxes[0][2:], boxes[1][2:])
        return (low + high) / 2, high - low

    (was, size), (now, turned) = middle(before), middle(after)
    np.testing.assert_allclose(now, was, atol=1e-3)
    np.testing.assert_allclose(turned, size[::-1], atol=1e-3)


def test_an_edge_is_laid_level_and_pieces_are_joined_along_it(box):
    box.edit(kind="move_pieces", finish="F1", pick=one(2), turn_by=37)
    edge = {"face": 2, "place": [WIDE / 2, 0.0, 1.0]}
    box.edit(kind="lay_edge", edge=edge, to="level")
    size = box.boxes[2][2:] - box.boxes[2][:2]
    np.testing.assert_allclose(size, [WIDE, HIGH], atol=1e-3)
    box.edit(kind="lay_edge", edge=edge, to="plumb")
    np.testing.assert_allclose(box.boxes[2][2:] - box.boxes[2][:2], [HIGH, WIDE], atol=1e-3)
    state = box.edit(kind="lay_edge", edge=edge, to="joined")
    assert "moved against the other" in state["said"]
    assert len(box.flat()[0]["pieces"]) == 5
    refused = box.refused(kind="lay_edge", edge=edge, to="joined")
    assert "runs on across this edge already" in refused


def test_pieces_are_packed_set_apart_stacked_and_split_off(box):
    for face in range(6):
        box.edit(kind="move_pieces", finish="F1", pick=one(face), shift_mm=[0, -float(box.boxes[face][1])])
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="apart", gap_mm="30 mm")
    assert box.flat()[0]["overlap_m2"] == 0
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="packed", gap_mm=10)
    header, _ = box.flat()
    boxes = np.array([p["box_mm"] for p in header["pieces"]])
    extent = boxes[:, 2:].max(axis=0) - boxes[:, :2].min(axis=0)
    assert (
        header["overlap_m2"] == 0 and sum(p["area_m2"] for p in header["pieces"]) * 1e6 > 0.5 * extent.prod()
    )
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="stacked")
    stacked = {tuple(np.round(b, 2)) for b in box.boxes.values()}
    assert len(stacked) == 3
    state = box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="stacked")
    assert state["said"] == "nothing had to move"


def test_pieces_are_packed_by_their_shape_and_turned_only_where_allowed(box):
    before = {face: b[2:] - b[:2] for face, b in box.boxes.items()}
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="packed", gap_mm=8)
    for face, b in box.boxes.items():
        np.testing.assert_allclose(b[2:] - b[:2], before[face], atol=1e-3)
    box.edit(kind="move_pieces", finish="F1", pick={"all": True}, turn_by=30)
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="packed", gap_mm=8, turns="quarter")
    header, arrays = box.flat()
    assert header["overlap_m2"] == 0
    rims, of = arrays["rims"].reshape(-1, 2, 2), arrays["rim_piece"]
    shapes = [shapely.build_area(shapely.multilinestrings(rims[of == k])) for k in range(6)]
    for k, one in enumerate(shapes):
        assert all(one.distance(other) >= 8 - 0.01 for other in shapes[k + 1 :])
        np.testing.assert_allclose(one.area, header["pieces"][k]["area_m2"] * 1e6, rtol=1e-5)


def test_faces_are_split_off_a_piece(database, client):
    with database.transaction() as db:
        facts = facts_of("box.obj", parts=1, triangles=12)
        project = projects.create(db, "box", blobs.put_mesh(db, cuboid(WIDE, DEEP, HIGH)), facts)
    box = Flattened(client, project)
    box.edit(kind="lay", material="oak", pick={"all": True}, projection={"kind": "flatten"})
    assert len(box.flat()[0]["pieces"]) == 1
    box.edit(kind="arrange_pieces", finish="F1", pick=one(4), how="split")
    pieces = box.flat()[0]["pieces"]
    assert sorted(p["faces"] for p in pieces) == [1, 5] or len(pieces) == 3
    refused = box.refused(kind="arrange_pieces", finish="F1", pick={"all": True}, how="split")
    assert "all of the finish" in refused


def test_what_something_else_leads_is_not_moved_by_hand(box):
    box.edit(kind="run_on", finishes=["F1"], run_on=True)
    refused = box.refused(kind="move_pieces", finish="F1", pick=one(2), turn_by=90)
    assert "its pattern runs on" in refused and "switch that off" in refused
    box.edit(kind="run_on", finishes=["F1"], run_on=False)
    assert "none of the picked faces" in box.refused(
        kind="move_pieces", finish="F1", pick={"faces": []}, turn_by=5
    )


def test_cuts_are_picked_one_by_one_and_closed_again(box):
    box.edit(kind="set_options", finishes=["F1"], options={"kind": "flatten", "cuts": {"edges": []}})
    state = box.state
    assert "closes on itself" in state["finishes"][0]["troubles"]
    told = {p["what"]: p for p in box.client.get(f"{box.path}/handover").json["problems"]}
    assert "closes on itself" in told["unsolved"]["text"] and told["unsolved"]["finish"] == "F1"
    cut = {"kind": "cut_edge", "finishes": ["F1"]}
    for x in (0.0, WIDE):
        for y in (0.0, DEEP):
            box.edit(**cut, edge={"face": 2 if y == 0 else 3, "place": [x, y, HIGH / 2]})
    # Three sides of the lid, the last by the way there from the second.
    for place in ([0.0, DEEP / 2, HIGH], [WIDE / 2, 0.0, HIGH]):
        box.edit(**cut, edge={"face": 1, "place": place})
    state = box.edit(**cut, edge={"face": 1, "place": [WIDE, DEEP / 2, HIGH]}, take="way")
    assert state["finishes"][0]["troubles"] == ""
    header, _ = box.flat()
    assert len(header["pieces"]) == 1 and header["overlap_m2"] == 0
    edges = state["finishes"][0]["projection"]["cuts"]["edges"]
    assert len(edges) == 7
    # The same edge again closes it, and the box cannot be laid flat any more.
    box.edit(**cut, edge={"face": 1, "place": [WIDE, DEEP / 2, HIGH]})
    now = box.state["finishes"][0]["projection"]["cuts"]["edges"]
    assert [[WIDE, 0, HIGH], [WIDE, DEEP, HIGH]] not in [sorted(chain) for chain in now]
    refused = box.refused(kind="cut_edge", finishes=["F7"], edge={"face": 1, "place": [0, 0, 0]})
    assert "no finish F7" in refused


def test_a_finish_that_is_not_flattened_is_not_cut(box):
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "box"})
    refused = box.refused(kind="cut_edge", finishes=["F1"], edge={"face": 1, "place": [0, 0, 0]})
    assert "flatten it first" in refused


def cut_out(asking, kind, **asked):
    return asking.client.get(f"{asking.path}/pattern/F1/{kind}", query_string=asked)


def test_the_pieces_are_handed_over_as_patterns(box):
    for kind, suffix, begin in (
        ("svg", ".svg", b"<?xml"), ("dxf", ".dxf", b"  0\nSECTION"), ("a3", "_A3.pdf", b"%PDF"), ("obj", "_flat.obj", b"# milli"),
    ):  # fmt: skip
        answer = cut_out(box, kind)
        assert answer.status_code == 200 and answer.data.startswith(begin)
        assert answer.headers["Content-Disposition"] == f"attachment; filename=box_F1{suffix}"
        assert kind == "a3" or b"100.0 % of the area within 5 %" in answer.data
    assert cut_out(box, "pdf").status_code == 404
    assert box.client.get(f"{box.path}/pattern/F9/svg").status_code == 404
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="stacked")
    answer = cut_out(box, "svg")
    assert answer.status_code == 422 and "set them apart first" in answer.json["error"]
    # On boards they lie apart whatever they do on the sheet.
    assert cut_out(box, "svg", width_mm="1.5 m", height_mm=1000).status_code == 200
    box.edit(kind="drop_adjustment", finish="F1")
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "triplanar"})
    assert "blends three sheets" in cut_out(box, "svg").json["error"]


def test_pieces_are_nested_on_boards_in_one_file_or_one_each(box):
    size = {"width_mm": "1220 mm", "height_mm": 820, "gap_mm": 8, "margin_mm": 10}
    told = cut_out(box, "boards.json", **size).json
    area = 2 * (WIDE * DEEP + WIDE * HIGH + DEEP * HIGH)
    assert sum(told["used"]) == pytest.approx(area / (1220 * 820), rel=1e-6) and told["too_large"] == []
    count = len(told["used"])
    assert count == 2
    document = filemanagement.read(io.StringIO(cut_out(box, "dxf", **size).data.decode()))
    assert len(document.audit().errors) == 0
    space = document.modelspace()
    boards, cut = (
        [
            shapely.Polygon([p[:2] for p in line.get_points()])  # type: ignore[attr-defined]
            for line in space.query(f'LWPOLYLINE[layer=="{layer}"]')
        ]
        for layer in ("BOARD", "OUTLINE")
    )
    assert len(boards) == count and len(cut) == 6
    assert sum(piece.area for piece in cut) == pytest.approx(area, rel=1e-9)
    assert all(any(board.buffer(-10 + 1e-3).covers(piece) for board in boards) for piece in cut)
    for k, one in enumerate(cut):
        assert all(one.distance(other) >= 8 - 1e-3 for other in cut[k + 1 :])
    each = zipfile.ZipFile(io.BytesIO(cut_out(box, "svg", **size, each="true").data))
    assert each.namelist() == [f"box_F1_board_{n}.svg" for n in range(1, count + 1)]
    small = {"width_mm": 550, "height_mm": 320}
    told = cut_out(box, "boards.json", **small).json
    assert [sorted(p["size_mm"]) for p in told["too_large"]] and len(told["used"]) == 2
    tiny = cut_out(box, "dxf", width_mm=100, height_mm=100)
    assert tiny.status_code == 422 and "no piece finds room" in tiny.json["error"]
    assert "state the size" in cut_out(box, "boards.json").json["error"]


def test_pieces_are_kept_clear_of_a_knot_wherever_that_is_possible(box):
    flat = box.flat()[0]
    assert flat["touching"] == [] and flat["avoid_mm"] == []
    assert "no area of" in box.refused(kind="avoid", finish="F1", pick={"all": True})
    # Round a place that the largest piece covers, a repeat further on.
    a = np.array(max(flat["pieces"], key=lambda p: p["area_m2"])["box_mm"])
    middle = (a[:2] + a[2:]) / 2 + [1800, -1200]
    knot = [*(middle - 20), *(middle + 20)]
    state = box.edit(kind="avoid", finish="F1", pick={"all": True}, box_mm=knot)
    assert state["said"] is None
    ((s0, t0, s1, t1),) = state["materials"]["oak"]["avoid_mm"]
    assert 0 <= s0 < 1800 and 0 <= t0 < 1200 and (s1 - s0, t1 - t0) == pytest.approx((40, 40))
    after = box.flat()[0]
    assert after["touching"] == [] and len(after["avoid_mm"]) == 1
    assert box.edit(kind="avoid", finish="F1", pick={"all": True})["said"] == "no piece lay on a marked area"
    # What nowhere finds room stays, and is told.
    box.edit(kind="scale", finishes=["F1"], scale=[0.3, 0.3])
    state = box.edit(kind="avoid", finish="F1", pick={"all": True})
    left = box.flat()[0]["touching"]
    assert left and f"{len(left)} piece" in state["said"] and "cannot lie clear" in state["said"]
    for _ in range(3):
        box.step("undo")
    assert box.state["materials"]["oak"]["avoid_mm"] == []
    assert "has no size" in box.refused(kind="avoid", finish="F1", pick={"all": True}, box_mm=[1, 1, 1, 9])
    large = box.refused(kind="avoid", finish="F1", pick={"all": True}, box_mm=[0, 0, 5000, 10])
    assert "as large as the repeat" in large
    box.edit(kind="avoid", finish="F1", pick={"all": True}, box_mm=knot)
    box.edit(kind="avoid", finish="F1", pick={"all": True}, forget=True)
    assert box.state["materials"]["oak"]["avoid_mm"] == []


def test_found_cuts_are_taken_over_and_borders_are_straightened(box):
    assert "which is not cut" not in box.edit(kind="keep_cuts", finishes=["F1"])["finishes"][0]["troubles"]
    projection = box.state["finishes"][0]["projection"]
    steps = {
        frozenset(map(tuple, step)) for c in projection["cuts"]["edges"] for step in itertools.pairwise(c)
    }
    assert len(steps) == 12, "every edge of the box"
    assert len(box.flat()[0]["pieces"]) == 6
    edge = {"face": 2, "place": [WIDE / 2, 0.0, 1.0]}
    state = box.edit(kind="straighten", finish="F1", edge=edge)
    assert len(state["finishes"][0]["projection"]["straight"]) == 1
    state = box.edit(kind="straighten", finish="F1", edge=edge)
    assert state["finishes"][0]["projection"]["straight"] == [], "clicked again it is let be"
    state = box.edit(kind="straighten", finish="F1", strips=one(2))
    assert len(state["finishes"][0]["projection"]["straight"]) == 2
    again = box.edit(kind="straighten", finish="F1", strips=one(2))
    assert again["finishes"][0]["projection"]["straight"] == state["finishes"][0]["projection"]["straight"]
    boxes = box.boxes
    np.testing.assert_allclose(np.sort(boxes[2][2:] - boxes[2][:2]), [HIGH, WIDE], atol=1e-3)
    assert "say which border" in box.refused(kind="straighten", finish="F1")
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "box"})
    assert "flatten it first" in box.refused(kind="straighten", finish="F1", edge=edge)


def test_pieces_without_area_cannot_be_cut_out_and_say_so(box):
    """A side seen edge-on lies in a line: its outline was empty, and cutting it out was answered with a fault."""
    box.edit(kind="set_pick", finishes=["F1"], pick={"facing": [0, 0, 1], "within_deg": 10})
    box.change(["F1"], projection={"kind": "planar"})
    seen_from_x = {"origin_mm": [0, 0, 0], "x_axis": [0, 1, 0], "z_axis": [1, 0, 0]}
    box.edit(kind="set_datum", finishes=["F1"], datum=seen_from_x)
    for kind in ("svg", "dxf", "a3"):
        answer = cut_out(box, kind)
        assert answer.status_code == 422 and "nothing can be cut out" in answer.json["error"], answer.json
