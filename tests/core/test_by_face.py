"""Grain across faces, no two alike, setting out, and the tape."""

import itertools

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh, merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay, settle
from pivrel.core.laying.finish import Adjustment, Finish
from pivrel.core.measure.figures import measure
from pivrel.core.measure.tape import lay_tape, sheet_between, spot_on
from pivrel.core.picks import All, Faces, Facing, as_faces, resolve
from pivrel.core.projection import Box, Cylindrical, Planar
from pivrel.core.set_out.cuts import balanced, to_joint
from pivrel.core.set_out.moves import (
    at_corner,
    at_edge,
    at_middle,
    balance,
    edge_direction,
    laid_finish,
    run_across,
)
from pivrel.core.sheet import Joints, Material
from pivrel.core.sheet.grain import GrainRule
from pivrel.core.sheet.variation import Variation, variations
from tests.shapes import column, cuboid, mesh_of

OAK = Material("oak", (1800.0, 1200.0), 0.0)
WALNUT = Material("walnut", (600.0, 1200.0), 90.0, half_turns=True, mirrors=True)
TILE = Material("tile", (600.0, 600.0), 0.0, Joints((150.0, 150.0), 3.0))
BRICK = Material("brick", (900.0, 600.0), 0.0, Joints((225.0, 75.0), 10.0, bond=0.5))


def turned(mesh: Mesh, rng) -> Mesh:
    """A mesh turned at random (the quaternion of four normal numbers) and moved."""
    w, x, y, z = (q := rng.normal(size=4)) / np.linalg.norm(q)
    turn = np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )
    return Mesh(
        mesh.points @ turn.T + rng.uniform(-9000, 9000, 3), mesh.corners, mesh.face_start, mesh.face_part,
        mesh.part_names,
    )  # fmt: skip


@pytest.fixture(scope="module")
def thirty_boards():
    rng = np.random.default_rng(5)
    boards = []
    for k in range(30):
        board = cuboid(rng.uniform(900, 2400), rng.uniform(80, 180), rng.uniform(18, 40))
        board = Mesh(board.points, board.corners, board.face_start, board.face_part, (f"Board {k:02}",))
        boards.append(turned(board, rng))
    return Surface(merged(boards))


def grain_on(surface, st_of, face, grain_deg):
    """(3,) the direction of the grain on a face, from its corners and their places on the sheet alone."""
    start, end = surface.mesh.face_start[[face, face + 1]]
    points = surface.mesh.points[surface.mesh.corners[start:end]]
    places = st_of[start:end]
    edges, moves = points[1:3] - points[0], places[1:3] - places[0]
    g = np.radians(grain_deg)
    a, b = np.linalg.solve(moves.T, [np.cos(g), np.sin(g)])
    along = a * edges[0] + b * edges[1]
    return along / np.linalg.norm(along)


def off_deg(a, b):
    return np.degrees(np.arccos(np.clip(abs(a @ b), 0, 1)))


@pytest.mark.parametrize("material", [OAK, WALNUT], ids=lambda m: m.name)
@pytest.mark.parametrize("one_part", [False, True], ids=["parts", "one part"])
def test_thirty_boards_at_random_angles(thirty_boards, material, one_part):
    surface = thirty_boards
    if one_part:
        mesh = surface.mesh
        surface = Surface(
            Mesh(mesh.points, mesh.corners, mesh.face_start, np.zeros(180, np.int32), ("Boards",))
        )
    finish = Finish("f", material, All(), Box(), datum_for="board", grain=GrainRule("length"),
                    variation=Variation("board", seed=4))  # fmt: skip
    faces = np.arange(180, dtype=np.int32)
    settled = settle(surface, finish)
    final = lay(surface, finish, faces, settled)
    for board in range(30):
        own = range(board * 6, board * 6 + 6)
        points = surface.mesh.points[board * 8 : board * 8 + 8]
        # The long axis by the covariance of the corners, and not by the box that the core fits.
        long = np.linalg.svd(points - points.mean(axis=0))[2][0]
        for face in own:
            normal = surface.normals[face] / np.linalg.norm(surface.normals[face])
            if abs(normal @ long) < 0.5:
                assert off_deg(grain_on(surface, final, face, material.grain_deg), long) < 0.5
    assert measure(surface, finish, faces, settled).true_share == 1
    shifts = settled.sheets.matrix[settled.sheets.group[::6], :, 2] / material.repeat_mm
    for a, b in itertools.combinations(shifts, 2):
        gap = np.abs((a - b) - np.round(a - b)).max()
        assert gap > 0.05, "no two boards show the same piece"
    again = lay(surface, finish, faces, settle(surface, finish))
    assert np.array_equal(final, again)


def test_a_shift_stays_when_other_boards_come_and_go():
    names = [f"Board {k}" for k in range(12)]
    first = variations(Variation(seed=9), OAK, names)
    more = variations(Variation(seed=9), OAK, [*names, "Another", "One more"])
    assert np.array_equal(first, more[:12])
    assert not np.array_equal(first, variations(Variation(seed=10), OAK, names))


def test_shifts_keep_to_joints_and_turns_to_what_the_material_allows():
    names = [str(k) for k in range(30)]
    moved = variations(Variation(half_turns=True, mirrors=True), BRICK, names)
    assert (moved[:, :, :2] == np.eye(2)).all(), "brick is neither turned nor flipped"
    courses = moved[:, 1, 2] / 75
    assert courses == pytest.approx(np.round(courses))
    along = (moved[:, 0, 2] - courses * 112.5) / 225
    assert along == pytest.approx(np.round(along)), "a shift by one course goes with half a brick"
    veneer = variations(Variation(half_turns=True, mirrors=True), WALNUT, names)
    assert {tuple(np.diag(m[:, :2])) for m in veneer} == {(1, 1), (-1, 1), (1, -1), (-1, -1)}


@pytest.mark.parametrize("what", ["joint", "centre"])
def test_a_place_comes_onto_a_joint_of_a_raking_bond(what):
    """By the definition of joints alone: row j begins at bond x j units (`docs/laying.md`)."""
    unit, at = np.array([225.0, 75.0]), np.array([17.0, 11.0])
    raking = Material("raking", (900.0, 600.0), 0.0, Joints(tuple(unit), 10.0, at_mm=tuple(at), bond=0.3))
    for place in np.random.default_rng(3).uniform(-2000, 2000, (60, 2)):
        move = to_joint(place, raking, what)
        assert (np.abs(move) <= unit / 2 + 1e-9).all(), "the nearest one"
        from_joint = place + move - at - (unit / 2 if what == "centre" else 0.0)
        row = from_joint[1] / unit[1]
        assert row == pytest.approx(round(row), abs=1e-9)
        column = from_joint[0] / unit[0] - 0.3 * round(row)
        assert column == pytest.approx(round(column), abs=1e-9)


def final_of(surface, finish):
    faces = as_faces(resolve(finish.pick, surface))
    settled = settle(surface, finish)
    out = np.full((surface.mesh.corner_count, 2), np.nan)
    out[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    return out


@pytest.mark.parametrize(
    ("rule", "wanted"),
    [
        (GrainRule("level"), lambda n, e: np.cross([0, 0, 1.0], n)),
        (GrainRule("plumb"), lambda n, e: [0, 0, 1.0] - n[2] * n),
        (GrainRule("direction", (1.0, 2.0, 3.0)), lambda n, e: np.array([1, 2, 3.0]) - (n @ [1, 2, 3.0]) * n),
        (GrainRule("edge"), lambda n, e: e),
    ],
    ids=["level", "plumb", "direction", "edge"],
)
def test_every_rule_on_every_side_of_a_tilted_block(rule, wanted):
    surface = Surface(turned(cuboid(700, 500, 300), np.random.default_rng(8)))
    finish = Finish("f", WALNUT, All(), Box(), None, datum_for="board", grain=rule, turn_deg=20.0)
    final = final_of(surface, finish)
    for face in range(6):
        n = surface.normals[face] / np.linalg.norm(surface.normals[face])
        corners = surface.mesh.points[surface.mesh.corners[face * 4 : face * 4 + 4]]
        edges = np.roll(corners, -1, axis=0) - corners
        want = np.asarray(wanted(n, edges[np.argmax(np.linalg.norm(edges, axis=1))]))
        want = want / np.linalg.norm(want)
        c, s = np.cos(np.radians(20)), np.sin(np.radians(20))
        for sign in (1, -1):
            turned_by = c * want + s * sign * np.cross(n, want)
            if off_deg(grain_on(surface, final, face, 90.0), turned_by) < 0.01:
                break
        else:
            raise AssertionError(f"face {face}")
        assert sign == 1, "the turn counts counter-clockwise as seen from outside"


def test_an_adjustment_turns_its_faces_alone_and_a_swap_keeps_the_rule():
    surface = Surface(cuboid(700, 500, 300))
    plain = final_of(surface, Finish("f", OAK, All(), Box(), Datum()))
    adjusted = final_of(
        surface,
        Finish("f", OAK, All(), Box(), Datum(), adjust=(Adjustment(Faces((2,)), 90.0, (10.0, 20.0)),)),
    )
    assert np.array_equal(np.delete(plain, range(8, 12), 0), np.delete(adjusted, range(8, 12), 0))
    moved = plain[8:12] - (10, 20)
    assert adjusted[8:12] == pytest.approx(np.stack([moved[:, 1], -moved[:, 0]], axis=1))


def test_tiles_meet_at_a_corner_of_three_faces():
    surface = Surface(turned(cuboid(1234, 777, 431), np.random.default_rng(2)))
    finish = Finish("f", TILE, All(), Box(), None, datum_for="part", offset_mm=(41.0, 17.0))
    faces = np.arange(6, dtype=np.int32)
    corner = surface.mesh.points[3]
    laid = laid_finish(surface, finish, faces, settle(surface, finish))
    face = int(surface.topology.corner_face[np.flatnonzero(surface.mesh.corners == 3)[0]])
    moves = at_corner(laid, face, corner + 4, "joint")
    assert len(moves) == 3
    after = Finish("f", TILE, All(), Box(), None, datum_for="part", offset_mm=(41.0, 17.0),
                   adjust=tuple(Adjustment(Faces(tuple(m.faces.tolist())), m.turn_deg, m.offset_mm) for m in moves))  # fmt: skip
    final = final_of(surface, after)[surface.mesh.corners == 3]
    assert len(final) == 3
    assert np.abs(final - np.round(final / 150) * 150).max() < 0.1


@given(st.floats(200, 9000), st.floats(40, 900), st.floats(0, 12))
def test_a_balanced_row_cannot_be_bettered(length, unit, joint):
    assume(length >= unit)
    found = balanced(length, unit, joint)
    # Brute force: every place of the first joint, in steps of a two-hundredth of a unit.
    best = 0.0
    for first in np.linspace(unit / 200, unit, 200):
        last = (length - first) % unit or unit
        if abs(first - last) < unit / 150:
            best = max(best, min(first, last))
    assert found.first_mm >= best - unit / 100
    assert found.first_mm >= unit / 2 - 1e-9, "no cut is under half a tile"
    last = length - found.first_mm - round((length - 2 * found.first_mm) / unit) * unit
    assert last == pytest.approx(found.first_mm, abs=0.1), "equal cuts at both ends"


def test_a_hundred_rooms_are_balanced():
    """No cut under half a tile, opposite cuts equal; read off the joints that fall within the floor."""
    rng = np.random.default_rng(11)
    pair = lambda values: (float(values[0]), float(values[1]))  # noqa: E731
    for _ in range(100):
        width, depth = rng.uniform(1200, 6000, 2)
        unit = rng.uniform(60, 600, 2)
        material = Material("t", pair(unit * 4), 0.0, Joints(pair(unit), 2.0, pair(rng.uniform(0, 50, 2))))
        surface = Surface(cuboid(width, depth, 30))
        floor = Facing((0, 0, 1), 5)
        finish = Finish("f", material, floor, Planar(), None, offset_mm=pair(rng.uniform(-99, 99, 2)))
        faces = as_faces(resolve(floor, surface))
        laid = laid_finish(surface, finish, faces, settle(surface, finish))
        moves = balance(laid, np.ones(6, bool))
        offset = tuple(np.add(finish.offset_mm, moves[0].offset_mm))
        final = final_of(surface, Finish("f", material, floor, Planar(), None, offset_mm=offset))
        low, high = np.nanmin(final, axis=0), np.nanmax(final, axis=0)
        for k in range(2):
            first = (material.joints.at_mm[k] - low[k]) % unit[k] or unit[k]
            last = (high[k] - material.joints.at_mm[k]) % unit[k] or unit[k]
            first, last = (unit[k] if min(v, unit[k] - v) < 1e-6 else v for v in (first, last))
            assert first == pytest.approx(last, abs=0.1)
            assert first >= unit[k] / 2 - 1e-6


def test_walls_of_a_room_keep_their_courses_level():
    surface = Surface(cuboid(3210, 2345, 2400))
    finish = Finish("f", BRICK, Facing((0, 0, 1), 100), Box(), Datum((3.0, 5.0, 7.0)))
    faces = as_faces(resolve(finish.pick, surface))
    laid = laid_finish(surface, finish, faces, settle(surface, finish))
    walls = np.abs(surface.normals[:, 2]) < 1
    moves = balance(laid, walls)
    assert len(moves) == 4
    assert len({m.offset_mm[1] for m in moves}) == 1, "all walls rise by the same"


def test_a_joint_on_an_edge_and_a_tile_on_the_middle():
    surface = Surface(cuboid(1000, 700, 300))
    finish = Finish("f", TILE, All(), Box(), Datum((13.0, 29.0, 31.0)))
    faces = np.arange(6, dtype=np.int32)
    laid = laid_finish(surface, finish, faces, settle(surface, finish))
    front = int(np.argmin(surface.normals[:, 1]))
    move, *others = at_edge(laid, front, np.array([500.0, 0, 299]), "joint")
    final = final_of(surface, Finish("f", TILE, All(), Box(), Datum((13, 29, 31)), adjust=(
        Adjustment(Faces((front,)), 0.0, move.offset_mm),)))[front * 4 : front * 4 + 4]  # fmt: skip
    assert len(others) == 3 and {m.offset_mm for m in others} == {move.offset_mm}, (
        "the other sides rise with it"
    )
    top = final[:, 1].max()
    assert top == pytest.approx(round(top / 150) * 150) and move.offset_mm[0] == 0
    move, *_ = at_middle(laid, front, "centre")
    final = final_of(surface, Finish("f", TILE, All(), Box(), Datum((13, 29, 31)), adjust=(
        Adjustment(Faces((front,)), 0.0, move.offset_mm),)))[front * 4 : front * 4 + 4]  # fmt: skip
    middle = (final.min(axis=0) + final.max(axis=0)) / 2
    assert (middle - 75) / 150 == pytest.approx(np.round((middle - 75) / 150))
    assert edge_direction(surface, front, np.array([500.0, 0, 299])) in ((1.0, 0, 0), (-1.0, 0, 0))


@pytest.mark.parametrize("seed", range(6))
def test_the_far_side_of_an_edge_runs_on(seed):
    rng = np.random.default_rng(seed)
    surface = Surface(turned(cuboid(900, 600, 400), rng))
    near = Finish("a", OAK, Faces((2,)), Planar(), None, turn_deg=rng.uniform(0, 360), scale=(1.5, 0.8))
    far = Finish("b", OAK, Faces((0, 1, 3, 4, 5)), Box(), None, datum_for="board", scale=(1.5, 0.8))
    one = laid_finish(surface, near, np.array([2], np.int32), settle(surface, near))
    others = np.array([0, 1, 3, 4, 5], np.int32)
    two = laid_finish(surface, far, others, settle(surface, far))
    corners = surface.mesh.points[surface.mesh.corners[8:12]]
    move, misfit = run_across(one, two, 2, (corners[0] + corners[1]) / 2)
    assert misfit < 1e-6 and len(move.faces) == 1
    after = Finish("b", OAK, far.pick, Box(), None, datum_for="board", scale=(1.5, 0.8), adjust=(
        Adjustment(Faces(tuple(move.faces.tolist())), move.turn_deg, move.offset_mm, move.mirrored),))  # fmt: skip
    both = np.where(np.isnan(final_of(surface, near)), final_of(surface, after), final_of(surface, near))
    for corner in (8, 9):
        place = surface.mesh.corners[corner]
        (beyond,) = [c for c in np.flatnonzero(surface.mesh.corners == place) if c // 4 == move.faces[0]]
        assert both[beyond] == pytest.approx(both[corner], abs=1e-6)


@pytest.mark.parametrize(
    ("beside", "nearest"),
    [((300, -40, 25), (300, 0, 0)), ((1200, 700, 0), (1000, 600, 0)), ((400, 200, -9), (400, 200, 0))],
    ids=["an edge", "a corner", "the face"],
)
def test_an_end_of_a_tape_beside_its_face_is_put_where_the_face_is_nearest(beside, nearest):
    surface = Surface(mesh_of([[0, 0, 0], [1000, 0, 0], [1000, 600, 0], [0, 600, 0]], [[0, 1, 2, 3]]))
    spot = spot_on(surface, 0, np.array(beside, float))
    assert spot.point == pytest.approx(np.array(nearest, float), abs=1e-9)


def test_a_tape_over_the_corner_of_a_box_is_the_straight_line_of_its_unfolded_sides():
    surface = Surface(cuboid(1000, 600, 400))
    front, right = int(np.argmin(surface.normals[:, 1])), int(np.argmax(surface.normals[:, 0]))
    a, b = (
        spot_on(surface, front, np.array([700.0, 0, 50])),
        spot_on(surface, right, np.array([1000.0, 350, 390])),
    )
    tape = lay_tape(surface, a, b)
    assert tape.over_surface
    assert tape.length_mm == pytest.approx(np.hypot(300 + 350, 340), rel=1e-9)
    finish = Finish("f", TILE, All(), Box("wrapped"), None)
    along, up = sheet_between(surface, tape, final_of(surface, finish))
    assert (along, up) == (pytest.approx(650), pytest.approx(340))


def test_a_tape_round_a_column_is_a_helix():
    surface = Surface(column(96, 150, 900, rows=4))
    angle = np.radians(100)
    radius = 150 * np.cos(np.pi / 96)

    def on(at, z):
        point = np.array([radius * np.cos(at), radius * np.sin(at), z])
        side = np.abs(surface.normals[:, 2]) < 1
        face = int(np.argmin(np.where(side, np.linalg.norm(surface.centroids - point, axis=1), np.inf)))
        return spot_on(surface, face, point)

    tape = lay_tape(surface, on(0.0, 100.0), on(angle, 700.0))
    # A cylinder unrolls: the hypotenuse of arc and rise.
    assert tape.length_mm == pytest.approx(np.hypot(150 * angle, 600), rel=2e-3)
    finish = Finish("f", TILE, Facing((0, 0, 1), 180), Cylindrical(150.0))
    along, up = sheet_between(surface, tape, final_of(surface, finish))
    assert up == pytest.approx(600, rel=1e-3) and along == pytest.approx(150 * angle, rel=2e-3)


def test_a_tape_to_another_body_spans_the_air():
    other = cuboid(100, 100, 100)
    far = Mesh(other.points + (5000, 0, 0), other.corners, other.face_start, other.face_part, ("Far",))
    surface = Surface(merged([cuboid(100, 100, 100), far]))
    tape = lay_tape(surface, spot_on(surface, 0, np.zeros(3)), spot_on(surface, 6, np.array([5000.0, 0, 0])))
    assert not tape.over_surface and tape.length_mm == pytest.approx(5000)
