"""Masks against their closed forms, and against reference libraries."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
import trimesh

from pivrel.core.cache import KeepAll
from pivrel.core.coats.coat import Coat
from pivrel.core.coats.masks.combined import AnyOf, Every, Not
from pivrel.core.coats.masks.fades import Fade, FadeAbout, FadeRound
from pivrel.core.coats.masks.mask import EVERYWHERE
from pivrel.core.coats.masks.nearness import Edges, Seams, Stroke, Strokes
from pivrel.core.coats.masks.patterns import Noise
from pivrel.core.coats.masks.sides import Band, Facing
from pivrel.core.coats.noise import octaves_at
from pivrel.core.coats.segments import Lines, sorted_into_cells
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All
from pivrel.core.picks import Facing as FacingPick
from pivrel.core.projection import Box, Planar
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from tests.shapes import cuboid, mesh_of

PLAIN = Material("plain", (470.0, 390.0))
OFF = Datum((13, 57, 91))
"""Away from the corners of the box, where its sides would meet by chance."""

UP = np.array([0.0, 0.0, 1.0])


def weight(mask, points, normals=None, surface=None, projection=None, pick=None):
    """(N,) of a mask over a finish of a cuboid, at places that need not lie on it unless the mask asks."""
    surface = surface or Surface(cuboid(1000, 700, 1100))
    finish = Finish(
        "f", PLAIN, pick or All(), projection or Box(), OFF, material_key="m", coats=(Coat("c", where=mask),)
    )
    coated = Schedule(surface, "s", {"F1": finish}, KeepAll()).coated("F1")
    points = np.array(points, float)
    normals = np.tile(UP, (len(points), 1)) if normals is None else np.array(normals, float)
    at = coated.places(points, normals, np.zeros(len(points), int))
    return coated.mask(mask, at, {})


def test_a_straight_fade_is_a_quarter_at_a_quarter_of_the_way():
    fade = Fade((10, 20, 400), (10, 20, 1200))
    heights = [(500, 3, z) for z in (0, 400, 600, 800, 1200, 5000)]
    np.testing.assert_allclose(weight(fade, heights), [0, 0, 0.25, 0.5, 1, 1], atol=1e-12)
    smooth = weight(Fade((10, 20, 400), (10, 20, 1200), "smooth"), heights)
    np.testing.assert_allclose(smooth, [0, 0, 3 / 16 - 2 / 64, 0.5, 1, 1], atol=1e-12)
    slanted = weight(Fade((0, 0, 0), (30, 40, 0)), [(30, 40, 9), (15, 20, 0), (40, -30, 0)])
    np.testing.assert_allclose(slanted, [1, 0.5, 0], atol=1e-12)


def test_fades_by_a_distance_may_run_either_way():
    out = FadeRound((100, 0, 0), (50, 150))
    np.testing.assert_allclose(
        weight(out, [(100, 0, 0), (200, 0, 0), (100, 0, 150), (100, 400, 0)]), [0, 0.5, 1, 1]
    )
    inwards = FadeRound((100, 0, 0), (150, 50))
    np.testing.assert_allclose(weight(inwards, [(100, 0, 0), (200, 0, 0), (100, 0, 400)]), [1, 0.5, 0])
    about = FadeAbout((0, 0, 0), (0, 0, 7), (100, 0))
    np.testing.assert_allclose(
        weight(about, [(25, 0, 999), (0, 80, -50), (100, 0, 1)]), [0.75, 0.2, 0], atol=1e-12
    )


def test_bands_and_facings_fall_linearly_beyond_their_limits():
    band = Band((0, 0, 2), 100, 300, 50)
    np.testing.assert_allclose(
        weight(band, [(0, 0, z) for z in (40, 75, 100, 300, 310, 350)]), [0, 0.5, 1, 1, 0.8, 0]
    )
    hard = Band((0, 0, 1), 100, 300)
    np.testing.assert_allclose(weight(hard, [(0, 0, z) for z in (99, 100, 300, 301)]), [0, 1, 1, 0])
    normals = [(np.sin(np.radians(a)), 0, np.cos(np.radians(a))) for a in (0, 30, 40, 50, 120)]
    np.testing.assert_allclose(
        weight(Facing((0, 0, 5), 30, 20), [(0, 0, 0)] * 5, normals), [1, 1, 0.5, 0, 0], atol=1e-6
    )


def test_masks_multiply_join_and_turn_over():
    fade, band = Fade((0, 0, 0), (0, 0, 100)), Band((1, 0, 0), 0, 10, 10)
    at = [(15, 0, 40), (0, 0, 80)]
    np.testing.assert_allclose(weight(Every((fade, band)), at), [0.2, 0.8])
    np.testing.assert_allclose(weight(AnyOf((fade, band)), at), [0.5, 1])
    np.testing.assert_allclose(weight(Not(fade), at), [0.6, 0.2])
    np.testing.assert_allclose(weight(Every(()), at), 1)
    np.testing.assert_allclose(weight(AnyOf(()), at), 0)
    np.testing.assert_allclose(weight(EVERYWHERE, at), 1)


def test_a_seam_of_40_mm_soft_20_by_its_distance_across_borders_of_triangles():
    """On the front of a box whose every edge is an open seam; distances of shapely at 2,000 points."""
    surface = Surface(cuboid(1000, 700, 1100))
    low, high = surface.bounds
    rng = np.random.default_rng(2)
    x, z = rng.uniform(low[0], high[0], 2000), rng.uniform(low[2], high[2], 2000)
    front = np.column_stack([x, np.full(2000, low[1]), z])
    rim = shapely.box(low[0], low[2], high[0], high[2]).exterior
    distance = shapely.distance(rim, shapely.points(x, z))
    got = weight(Seams(40, 20), front, np.tile([0, -1.0, 0], (2000, 1)), surface)
    np.testing.assert_allclose(got, np.clip(1 - (distance - 40) / 20, 0, 1), atol=1e-3 / 20)
    at = [(low[0] + d, low[1], low[2] + 500) for d in (30, 50, 60)]
    np.testing.assert_allclose(weight(Seams(40, 20), at, surface=surface), [1, 0.5, 0], atol=1e-12)
    # Where the pattern runs on there is nothing to be near to.
    assert not weight(
        Seams(40, 20), at, surface=surface, projection=Planar(), pick=FacingPick((0, -1, 0), 1)
    ).any()


def test_lines_in_a_grid_are_as_near_as_all_lines_one_by_one():
    rng = np.random.default_rng(3)
    ends = rng.uniform(-2000, 2000, (300, 1, 3)) + rng.uniform(-150, 150, (300, 2, 3))
    ends[::50, 1] = ends[::50, 0]
    points = rng.uniform(-2200, 2200, (2000, 3))
    grid = sorted_into_cells(Lines.of(ends, 120.0), 300.0)
    got = grid.weight(points, np.zeros((2000, 3)))
    # trimesh takes segments one row of six numbers each, and answers with the closest place on every one of them.
    closest = np.array([
        np.linalg.norm(_closest(segment, points) - points, axis=1) for segment in ends
    ]).min(axis=0)  # fmt: skip
    np.testing.assert_allclose(got, np.clip(1 - (closest - 120) / 300, 0, 1), atol=1e-9)
    assert 0.1 < (got > 0).mean() < 0.99


def _closest(segment, points):
    """(N, 3) by trimesh: the closest place on a thin triangle, which is the segment doubled back."""
    triangle = np.array([segment[0], segment[1], segment[0]])
    return trimesh.triangles.closest_point(np.tile(triangle, (len(points), 1, 1)), points)


def test_edges_turn_outward_or_inward():
    """An L seen from its end: five outward edges along it, and one inward."""
    outline = [(0, 0), (300, 0), (300, 100), (100, 100), (100, 300), (0, 300)]
    points = [(x, y, z) for y in (0.0, 1000.0) for x, z in outline]
    sides = [(k, (k + 1) % 6, (k + 1) % 6 + 6, k + 6) for k in range(6)]
    faces = [*sides, (5, 4, 3, 2, 1, 0), (6, 7, 8, 9, 10, 11)]
    surface = Surface(mesh_of(points, faces))
    if surface.normals[0][2] > 0:
        surface = Surface(mesh_of(points, [face[::-1] for face in faces]))
    inner, outer = (100.0, 500.0, 110.0), (300.0, 500.0, 90.0)
    at = [inner, outer]
    np.testing.assert_allclose(weight(Edges(5, 10, "concave"), at, surface=surface), [0.5, 0])
    np.testing.assert_allclose(weight(Edges(5, 10, "convex"), at, surface=surface), [0, 0.5])
    np.testing.assert_allclose(weight(Edges(5, 10, "both"), at, surface=surface), [0.5, 0.5])
    assert not weight(Edges(5, 10, "both", 95), at, surface=surface).any()


def test_a_stroke_lies_on_the_side_of_a_thin_board_that_it_was_drawn_on():
    surface = Surface(cuboid(1000, 700, 4))
    low, high = surface.bounds
    top = high[2]
    line = Stroke(((low[0] + 200, 0, top), (low[0] + 600, 0, top)), 30)
    mask = Strokes((line, Stroke(((low[0] + 800, 0, top),), 10)), 20)
    places = [(low[0] + 400, d, top) for d in (0, 30, 40, 51)]
    np.testing.assert_allclose(weight(mask, places, surface=surface), [1, 1, 0.5, 0], atol=1e-9)
    below = [(x, y, low[2]) for x, y, _ in places]
    assert not weight(mask, below, np.tile(-UP, (4, 1)), surface).any()
    np.testing.assert_allclose(weight(mask, [(low[0] + 815, 0, top)], surface=surface), [0.75])
    assert not weight(Strokes(()), places, surface=surface).any()


def test_noise_is_the_same_for_a_seed_even_and_half_at_whole_places():
    rng = np.random.default_rng(5)
    points = rng.uniform(-3e4, 3e4, (20_000, 3))
    value = octaves_at(points, 300, 7, 4)
    np.testing.assert_array_equal(value, octaves_at(points, 300, 7, 4))
    assert (
        abs(value.mean() - 0.5) < 0.01 and 0.08 < value.std() < 0.2 and value.min() >= 0 and value.max() <= 1
    )
    assert np.abs(np.corrcoef(value, octaves_at(points, 300, 8, 4))[0, 1]) < 0.05
    np.testing.assert_allclose(octaves_at(np.array([[300.0, -600, 900]]), 300, 7, 1), 0.5)
    # No step: the slope of one octave is bounded.
    step = np.abs(octaves_at(points + [0.01, 0, 0], 300, 7, 1) - octaves_at(points, 300, 7, 1))
    assert step.max() < 0.01 / 300 * 2
    got = weight(Noise(300, 7, 0.4, 0.6, 4), points)
    np.testing.assert_allclose(got, np.clip((value - 0.4) / 0.2, 0, 1))


@pytest.mark.parametrize("x", [0, 1, -1, 2**31 - 1, -(2**31)])
def test_the_hash_is_that_of_its_paper(x):
    """`pcg4d` as its authors print it, once more in numpy's own 32-bit numbers."""
    from pivrel.core.coats.hashing import pcg4d

    v = np.array([x, 3, -7, 11], np.int64).astype(np.uint32)
    with np.errstate(over="ignore"):
        v = v * np.uint32(1664525) + np.uint32(1013904223)
        for turn in range(2):
            for to, a, b in ((0, 1, 3), (1, 2, 0), (2, 0, 1), (3, 1, 2)):
                v[to] += v[a] * v[b]
            if turn == 0:
                v ^= v >> np.uint32(16)
    assert [int(n) for n in pcg4d(x, 3, -7, 11)] == v.tolist()
