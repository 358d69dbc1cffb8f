"""Stretch, smear, mirroring and seams, against closed forms."""

import math
from dataclasses import replace

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.portion import portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import cover, lay, settle
from pivrel.core.laying.finish import Adjustment, Finish
from pivrel.core.measure.figures import left_areas, measure, shown_by_face
from pivrel.core.measure.seams import find_seams
from pivrel.core.measure.stretch import stretch
from pivrel.core.picks import All, Faces
from pivrel.core.projection import Box, Planar
from pivrel.core.sheet import Joints, Material
from pivrel.core.sheet.variation import Variation
from tests.shapes import cuboid, mesh_of, prism_45

BRICK = Material("brick", (900.0, 600.0))
UP = Datum()


def figures(mesh, projection, pick=None, material=BRICK, datum=UP, **placed):
    surface = Surface(mesh)
    pick = pick or All()
    finish = Finish("f", material, pick, projection, datum, **placed)
    faces = np.flatnonzero(cover(surface, [pick]) == 0).astype(np.int32)
    return measure(surface, finish, faces, settle(surface, finish))


def test_planar_on_a_side_at_45_degrees_is_stretched_by_the_cosine_exactly():
    side = figures(prism_45(), Planar(), Faces((1,)))
    assert side.least_stretch == pytest.approx(math.cos(math.pi / 4), abs=1e-12)
    assert side.greatest_stretch == pytest.approx(1.0, abs=1e-12)
    assert side.true_share == 0.0


def test_an_edge_on_face_is_smeared_with_its_area():
    whole = figures(prism_45(), Planar())
    assert whole.smeared_m2 == pytest.approx(0.3)
    assert whole.smeared_faces.tolist() == [2]
    assert whole.mirrored_m2 == 0.0
    assert whole.area_m2 == pytest.approx(0.5 + 0.2 * math.sqrt(2) + 0.3)
    assert whole.true_share == pytest.approx(0.5 / whole.area_m2)


def test_scale_and_turn_do_not_count_as_stretch():
    found = figures(cuboid(), Box(), turn_deg=33.0, scale=(3.0, 0.5), offset_mm=(7.0, 9.0))
    assert found.true_share == 1.0
    assert found.mirrored_m2 == 0.0


def test_backs_are_mirrored_only_when_laid_through():
    bottom = Faces((0,))
    assert figures(cuboid(), Planar(), bottom).mirrored_m2 == pytest.approx(1.0)
    assert figures(cuboid(), Planar("unmirrored"), bottom).mirrored_m2 == 0.0


def test_what_counts_as_mirrored_is_the_sheet_as_it_lies():
    bottom, both = Faces((0,)), Faces((0, 1))
    assert figures(cuboid(), Planar(), both).mirrored_faces.tolist() == [0]
    assert figures(cuboid(), Planar(), both, scale=(-1.0, 1.0)).mirrored_faces.tolist() == [1]
    assert figures(cuboid(), Planar(), both, scale=(-1.0, -2.0)).mirrored_faces.tolist() == [0]
    turned_over = (Adjustment(bottom, mirrored=True),)
    assert figures(cuboid(), Planar(), both, adjust=turned_over).mirrored_m2 == 0.0
    assert figures(cuboid(), Planar(), both, adjust=turned_over, scale=(-1.0, 1.0)).mirrored_m2 == 2.0


def test_mirrors_that_a_material_allows_are_no_fault():
    veneer = Material("veneer", (600.0, 1200.0), 90.0, half_turns=True, mirrors=True)
    varied = Variation("face", seed=3, half_turns=True, mirrors=True)
    assert figures(cuboid(), Box(), material=veneer, variation=varied).mirrored_m2 == 0.0


def test_stretch_agrees_with_numpy_singular_values():
    rng = np.random.default_rng(5)
    points, raw = rng.uniform(-1000, 1000, (300, 3)), rng.uniform(-1000, 1000, (300, 2))
    triangles = np.arange(300, dtype=np.int32).reshape(-1, 3)
    high, low, det = stretch(points, np.arange(300, dtype=np.int32), triangles, raw)
    for t, (i, j, k) in enumerate(triangles):
        u, v = points[j] - points[i], points[k] - points[i]
        e = u / np.linalg.norm(u)
        f = v - (v @ e) * e
        plane = np.array([[u @ e, v @ e], [0.0, np.linalg.norm(f)]])
        jacobian = np.column_stack([raw[j] - raw[i], raw[k] - raw[i]]) @ np.linalg.inv(plane)
        expected = np.linalg.svd(jacobian, compute_uv=False)
        assert (high[t], low[t]) == pytest.approx(tuple(expected), rel=1e-9)
        assert det[t] == pytest.approx(np.linalg.det(jacobian), rel=1e-9)


def test_a_triangle_without_area_counts_as_nothing():
    found = figures(
        mesh_of([(0, 0, 0), (1000, 0, 0), (0, 1000, 0), (2000, 0, 0)], [(0, 1, 2), (0, 1, 3)]), Planar()
    )
    assert found.area_m2 == pytest.approx(0.5)
    assert (found.true_share, found.smeared_m2, found.least_stretch) == (1.0, 0.0, 1.0)


def test_pattern_runs_on_over_a_flat_joint_and_stops_at_a_box_corner():
    # +x meets -y at the upright edge x = 1000, y = 0: s = py = 0 there, and s = px = 1000.
    corner = figures(cuboid(), Box(), Faces((2, 4)))
    assert corner.seams_m == pytest.approx(1.0)
    assert corner.worst_gap_mm == pytest.approx(100.0), "1000 mm is 100 mm more than one repeat of 900"
    assert corner.seam_faces.tolist() == [2, 4]
    fits = figures(cuboid(), Box(), Faces((2, 4)), Material("tile", (500.0, 500.0)))
    assert (fits.seams_m, fits.seam_faces.tolist()) == (0.0, [])
    assert fits.worst_gap_mm == pytest.approx(0, abs=1e-9)


def test_vertices_stored_twice_count_as_one():
    plate = mesh_of(
        [
            (0, 0, 0),
            (1000, 0, 0),
            (1000, 1000, 0),
            (0, 1000, 0),
            (1000, 0, 0),
            (2000, 0, 0),
            (2000, 1000, 0),
            (1000, 1000, 0),
        ],
        [(0, 1, 2, 3), (4, 5, 6, 7)],
    )
    found = figures(plate, Planar())
    assert (found.seams_m, found.worst_gap_mm) == (0.0, 0.0)
    assert len(Surface(plate).topology.pairs) == 1


def test_gap_within_half_a_millimetre_is_matched():
    for width, seam in ((999.6, 0.0), (999.4, 1.0)):
        found = figures(cuboid(), Box(), Faces((2, 4)), Material("m", (width, 600.0)))
        assert found.seams_m == pytest.approx(seam), width


def test_a_single_sheet_is_measured_by_what_shows_of_it():
    """A label of 300 x 200 mm on two faces of a cube of 1 m, 60 mm of it round the corner: closed forms."""
    surface, faces = Surface(cuboid()), np.array([2, 4], np.int32)
    label = Finish(
        "Label", Material("label", (300.0, 200.0)), Faces((2, 4)), Box("wrapped", (1000.0, 1000.0, 1000.0)),
        Datum((500.0, 500.0, 0.0)), offset_mm=(760.0, 100.0), tile=False,
    )  # fmt: skip
    settled = settle(surface, label)
    found = measure(surface, label, faces, settled)
    assert found.area_m2 == pytest.approx(0.06) and found.true_share == pytest.approx(1.0)
    assert shown_by_face(surface, label, faces, settled) / 1e6 == pytest.approx([0.048, 0.012])
    left = left_areas(surface, [(faces, shown_by_face(surface, label, faces, settled))])
    assert left.sum() / 1e6 == pytest.approx(6 - 0.06)
    separate = replace(label, projection=Box(), datum=Datum(), offset_mm=(760.0, 100.0))
    broken = measure(surface, separate, faces, settle(surface, separate))
    assert broken.seams_m == pytest.approx(0.2), "the edge between the faces, as far as the sheet covers it"


@pytest.mark.parametrize(
    ("offset", "joints", "open_m"),
    [((150.0, 0.0), 1.0, 0.0), ((40.0, 0.0), 0.0, 1.0), ((0.0, 75.0), 0.0, 1.0), ((300.0, 150.0), 1.0, 0.0)],
)
def test_joints_that_run_on_are_counted_apart_from_open_seams(offset, joints, open_m):
    """Tiles of 150 mm on two sides of a cube of 1050 mm, one side's image shifted against the other's."""
    side = 1050.0
    tiles = Material("tiles", (900.0, 750.0), joints=Joints((150.0, 150.0), 3.0))
    shifted = Adjustment(Faces((4,)), offset_mm=offset)
    finish = Finish("Tiles", tiles, Faces((2, 4)), Box(), Datum(), adjust=(shifted,))
    surface = Surface(cuboid(side, side, side))
    found = measure(surface, finish, np.array([2, 4], np.int32), settle(surface, finish))
    assert (found.joints_m, found.seams_m) == pytest.approx((joints * side / 1000, open_m * side / 1000))


@pytest.mark.parametrize(
    ("bond", "offset", "runs_on"),
    [
        # One row up, the joints stand a quarter of a unit to the right, and so on; to the left they do not meet.
        (0.25, (37.5, 75.0), True),
        (0.25, (-37.5, 75.0), False),
        (0.25, (75.0, 150.0), True),
        (0.25, (75.0, 75.0), False),
        (1 / 3, (50.0, 75.0), True),
        (1 / 3, (-50.0, 75.0), False),
        (1 / 3, (100.0, -75.0), True),
        (0.5, (-75.0, 75.0), True),
    ],
)
def test_joints_of_a_raking_bond_meet_one_way_only(bond, offset, runs_on):
    """By the definition of joints alone: row j begins at bond x j units (`docs/laying.md`)."""
    side = 1050.0
    bricks = Material("bricks", (1800.0, 900.0), joints=Joints((150.0, 75.0), 3.0, bond=bond))
    # One image, shifted where the laying is flat, so that nothing but the shift decides.
    surface = Surface(mesh_of([(0, 0, 0), (side, 0, 0), (side, 0, side), (0, 0, side), (2 * side, 0, 0), (2 * side, 0, side)],
                              [(0, 1, 2, 3), (1, 4, 5, 2)]))  # fmt: skip
    finish = Finish("Bricks", bricks, All(), Planar(), Datum((0, 0, 0), (1, 0, 0), (0, -1, 0)),
                    adjust=(Adjustment(Faces((1,)), offset_mm=offset),))  # fmt: skip
    found = measure(surface, finish, np.arange(2, dtype=np.int32), settle(surface, finish))
    assert (found.joints_m, found.seams_m) == pytest.approx((1.05, 0.0) if runs_on else (0.0, 1.05))


def test_an_edge_where_the_pattern_runs_on_is_no_edge_of_joints():
    """The image itself is one with its joints, so it is counted once: as matched."""
    tiles = Material("tiles", (900.0, 750.0), joints=Joints((150.0, 150.0), 3.0))
    surface = Surface(mesh_of([(0, 0, 0), (300, 0, 0), (300, 0, 300), (0, 0, 300), (600, 0, 0), (600, 0, 300)],
                              [(0, 1, 2, 3), (1, 4, 5, 2)]))  # fmt: skip
    finish = Finish("Tiles", tiles, All(), Planar(), Datum((0, 0, 0), (1, 0, 0), (0, -1, 0)))
    faces = np.arange(2, dtype=np.int32)
    final = lay(surface, finish, faces, settle(surface, finish))
    seams = find_seams(portion(surface, faces), final, tiles.repeat_mm, tiles.joints)
    told = [mask.tolist() for mask in (seams.matched, seams.joints, seams.broken)]
    assert told == [[True], [False], [False]]
    found = measure(surface, finish, faces, settle(surface, finish))
    assert (found.joints_m, found.seams_m) == (0.0, 0.0)


def test_a_mitre_is_no_seam():
    """Two boards that meet at 45 degrees: their cuts lie on each other, where nobody sees an edge."""
    points = [
        (0, 0, 0),
        (100, 0, 0),
        (100, 0, 10),
        (0, 0, 10),
        (0, 100, 0),
        (0, 100, 10),
        (10, 10, 0),
        (10, 10, 10),
    ]
    one = [(0, 1, 2, 3), (0, 3, 7, 6)]
    other = [(0, 4, 5, 3)[::-1], (0, 6, 7, 3)]
    surface = Surface(mesh_of(points, [*one, *other], parts=("a", "b"), face_part=[0, 0, 1, 1]))
    pairs = find_seams(portion(surface, np.arange(4, dtype=np.int32)), np.zeros((16, 2)), (1e3, 1e3)).pairs
    face = surface.topology.corner_face
    assert {frozenset(p) for p in face[pairs].tolist()}.isdisjoint({frozenset((1, 3))})


def test_brick_laid_by_box_holds_sixty_to_the_square_metre():
    """60 bricks of 215 x 65 mm with 10 mm joints cover 1 m² of a half-brick wall.

    The usual handbook figure (e.g. Brick Development Association design notes; from memory). Counted
    here as the brick cells that the laid coordinates of a 1 m x 1 m wall span: its area in the sheet's
    own coordinates, divided by one brick with its joint.
    """
    surface = Surface(cuboid(1000, 215, 1000))
    finish = Finish("wall", BRICK, Faces((2,)), Box(), Datum())
    st = lay(surface, finish, np.array([2], np.int32), settle(surface, finish))
    x, y = st[:, 0], st[:, 1]
    area = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    repeats = area / (900 * 600)
    bricks = repeats * (4 * 8)
    assert bricks == pytest.approx(60, rel=0.015)
    assert 600 / 8 == 75, "eight courses a repeat"
