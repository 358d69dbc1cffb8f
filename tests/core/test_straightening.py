"""Straightening: borders become parallel lines along the sheet, and what lies between keeps its size as well as it can."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import Flatten
from pivrel.core.set_out.strips import long_borders
from pivrel.core.solve.cut_picks import as_chain, chains_along
from pivrel.core.solve.straightening import Straight
from tests.bent import grid, sector, torus_half
from tests.core.test_flatten import cylinder, laid
from tests.shapes import mesh_of


def borders(surface, along, across):
    """The places along v = 0 and v = 1 of a grid, as chains."""
    ids = np.arange((along + 1) * (across + 1)).reshape(along + 1, across + 1)
    return [straight(surface.mesh.points[ids[:, k]]) for k in (0, across)]


def straight(run, on=None):
    """A run on the one piece that there is, or on the piece at a place."""
    (chain,) = (as_chain(run),)
    x, y, z = map(float, chain[0] if on is None else on)
    return Straight(chain, (x, y, z))


def lies(surface, pieces, chain):
    """(N, 2) mm where vertices at places of a chain lie."""
    vertices = [int(np.argmin(((surface.mesh.points - place) ** 2).sum(axis=1))) for place in chain]
    corners = [int(np.flatnonzero(surface.mesh.corners == vertex)[0]) for vertex in vertices]
    return pieces.place_of(np.array(corners))


@pytest.mark.parametrize("aim", ["true", "even"])
@pytest.mark.parametrize(
    "place",
    [sector(900, 1000, 1.2), sector(900, 1100, 0.8, rise=250), torus_half(1000, 60)],
    ids=["arc", "ramp", "tube"],
)
def test_the_long_borders_of_a_strip_are_parallel_lines(place, aim):
    surface = grid(place, 60, 8, cut="either")
    chains = borders(surface, 60, 8)
    _, pieces = laid(surface, Flatten(cuts=(), aim=aim, straight=tuple(chains)))
    low, high = (lies(surface, pieces, chain.along) for chain in chains)
    assert np.ptp(low[:, 1]) < 1e-6 and np.ptp(high[:, 1]) < 1e-6
    assert (pieces._signed > 0).all() or (pieces._signed < 0).all(), "nothing is turned over"
    # The area it has, within what the bend of the strip asks for.
    assert pieces.sheet_areas.sum() == pytest.approx(pieces.areas.sum(), rel=0.08)
    # As even as it can be: the strip's middle line keeps its length.
    middle = np.linalg.norm(np.diff(surface.mesh.points.reshape(61, 9, 3)[:, 4], axis=0), axis=1).sum()
    ends = [np.ptp(run[:, 0]) for run in (low, high)]
    assert np.mean(ends) == pytest.approx(middle, rel=0.05)


def test_a_developed_side_that_is_straight_already_stays_as_it_is():
    surface = cylinder()
    _, free = laid(surface, Flatten(cuts="creases"))
    largest = int(np.argmax(free.areas))
    runs = long_borders(free, largest)
    assert len(runs) == 2
    # On the side, and not on the lids that share these borders: no circle is a line.
    face = int(free.faces[free.piece == largest][0])
    on = surface.mesh.points[surface.mesh.corners[surface.mesh.face_start[face] :][:4]].mean(axis=0)
    _, pieces = laid(surface, Flatten(cuts="creases", straight=tuple(straight(run, on) for run in runs)))
    box, was = pieces.boxes[int(np.argmax(pieces.areas))], free.boxes[largest]
    np.testing.assert_allclose(np.sort(box[2:] - box[:2]), np.sort(was[2:] - was[:2]), rtol=1e-6)
    np.testing.assert_allclose(pieces.sheet_areas.sum(), free.sheet_areas.sum(), rtol=1e-6)


def test_a_straight_border_on_another_region_changes_nothing_here():
    surface = grid(sector(900, 1000, 1.2), 40, 6)
    far = (Straight(((9e4, 0.0, 0.0), (9.1e4, 0.0, 0.0)), (9e4, 0.0, 0.0)),)
    _, pieces = laid(surface, Flatten(cuts=(), straight=far))
    _, free = laid(surface, Flatten(cuts=()))
    np.testing.assert_allclose(pieces.final, free.final, atol=1e-9)


def test_cuts_as_chains_hold_every_edge_once():
    """Three cuts that meet, one of them round: as many steps in the chains as there were edges."""
    points = [
        (0, 0, 0),
        (1, 0, 0),
        (2, 0, 0),
        (0, 1, 0),
        (1, 1, 0),
        (2, 1, 0),
        (0, 2, 0),
        (1, 2, 0),
        (2, 2, 0),
    ]
    faces = [(0, 1, 4, 3), (1, 2, 5, 4), (3, 4, 7, 6), (4, 5, 8, 7)]
    surface = Surface(mesh_of(np.array(points, float) * 100, faces))
    halves = surface.topology.pairs.reshape(-1)
    chains = chains_along(surface, halves)
    steps = [frozenset(step) for chain in chains for step in itertools.pairwise(chain)]
    assert len(steps) == len(set(steps)) == len(surface.topology.pairs) == 4
    assert all(place in {step for chain in chains for step in chain} for place in [(100.0, 100.0, 0.0)])
