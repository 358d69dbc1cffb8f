"""Tie points: a map from two, three or more places, against maps that are known."""

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay_by_corner, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All
from pivrel.core.projection import Flow, Planar
from pivrel.core.sheet import Material
from pivrel.core.sheet.tie import Tie, tied_motion
from tests.bent import grid, winding_wall
from tests.shapes import mesh_of

RNG = np.random.default_rng(5)
TILE = Material("tile", (300.0, 200.0))


def turned(degrees, factor=1.0):
    a = np.radians(degrees)
    return factor * np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])


@pytest.mark.parametrize(
    ("by", "linear", "count"),
    [
        ("move", np.eye(2), 1), ("move", np.eye(2), 4), ("turn", turned(33), 2), ("turn", turned(-170), 5),
        ("scale", turned(20, 1.4), 2), ("scale", turned(20, 0.6), 6), ("skew", np.array([[1.2, 0.3], [-0.1, 0.8]]), 3),
        ("skew", np.array([[1.2, 0.3], [-0.1, 0.8]]), 7),
    ],
)  # fmt: skip
def test_a_known_motion_is_found_from_places_that_it_moved(by, linear, count):
    now = RNG.uniform(-900, 900, (count, 2))
    wanted = now @ linear.T + [37.0, -210.0]
    motion = tied_motion(now, wanted, by, (1.0, 1.0), None)
    np.testing.assert_allclose(motion[:, :2], linear, atol=1e-9)
    np.testing.assert_allclose(now @ motion[:, :2].T + motion[:, 2], wanted, atol=1e-6)


def test_a_turn_keeps_lengths_on_the_face_where_the_sheet_is_enlarged():
    scale = (2.0, 0.5)
    face = RNG.uniform(-900, 900, (4, 2))
    moved = face @ turned(40).T + [10, 20]
    motion = tied_motion(face / scale, moved / scale, "turn", scale, None)
    np.testing.assert_allclose((face / scale) @ motion[:, :2].T + motion[:, 2], moved / scale, atol=1e-9)


def test_what_does_not_fit_is_shared_out():
    """Two places that are 100 farther apart than wanted: each is missed by 50."""
    now, wanted = np.array([[0.0, 0], [1000, 0]]), np.array([[0.0, 0], [900, 0]])
    motion = tied_motion(now, wanted, "turn", (1, 1), None)
    off = now @ motion[:, :2].T + motion[:, 2] - wanted
    np.testing.assert_allclose(np.linalg.norm(off, axis=1), 50, atol=1e-9)


@pytest.mark.parametrize("by", ["move", "turn", "scale"])
def test_places_that_ask_for_a_skew_are_met_by_no_more_than_is_allowed(by):
    now = RNG.uniform(-900, 900, (5, 2))
    linear = tied_motion(now, now @ [[1.2, -0.1], [0.3, 0.8]], by, (1.0, 1.0), None)[:, :2]
    factor = np.sqrt(np.linalg.det(linear))
    np.testing.assert_allclose(linear @ linear.T, factor**2 * np.eye(2), atol=1e-9, err_msg="angles are kept")
    assert (by == "scale") == (abs(factor - 1) > 1e-3)
    assert (by == "move") == np.allclose(linear, np.eye(2))


def at(surface, finish, place):
    """Where a corner at a place lies on the sheet."""
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    st = lay_by_corner(surface, finish, faces, settle(surface, finish))
    points = surface.mesh.points[surface.mesh.corners]
    return st[np.argmin(((points - place) ** 2).sum(axis=1))]


def modulo(st):
    return (np.asarray(st) / TILE.repeat_mm + 0.5) % 1.0 - 0.5


def test_a_tie_brings_its_place_of_the_nearest_repeat():
    flat = Surface(mesh_of([(0, 0, 0), (1000, 0, 0), (1000, 700, 0), (0, 700, 0)], [(0, 1, 2, 3)]))
    tie = Tie((40.0, 60.0), (1000.0, 700.0, 0.0))
    finish = Finish("f", TILE, All(), Planar(), Datum(), tie=(tie,))
    st = at(flat, finish, tie.at_mm)
    np.testing.assert_allclose(modulo(st - tie.sheet_mm), 0, atol=1e-9)
    assert np.abs(st - [1000, 700]).max() <= 150, "moved by half a repeat at most"
    once = Finish("f", TILE, All(), Planar(), Datum(), tie=(tie,), tile=False)
    np.testing.assert_allclose(at(flat, once, tie.at_mm), tie.sheet_mm, atol=1e-9)


def test_ties_hold_on_a_laying_that_follows_the_surface():
    wall = grid(winding_wall(), 48, 12)
    ends = [(0.0, 0.0, 0.0), (6000.0, 0.0, 0.0)]
    ties = (Tie((20.0, 30.0), ends[0]), Tie((150.0, 30.0), ends[1]))
    finish = Finish("f", TILE, All(), Flow(), tie=ties, tie_by="scale")
    for tie in ties:
        np.testing.assert_allclose(modulo(at(wall, finish, tie.at_mm) - tie.sheet_mm), 0, atol=1e-6)
    rigid = Finish("f", TILE, All(), Flow(), tie=ties)
    off = [np.linalg.norm(modulo(at(wall, rigid, tie.at_mm) - tie.sheet_mm) * TILE.repeat_mm) for tie in ties]
    assert off[0] == pytest.approx(off[1], abs=1e-6) and off[0] > 1
