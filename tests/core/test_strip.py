"""The shortest way through a strip of triangles, against going downhill on its length."""

import numpy as np
import pytest
from scipy.optimize import minimize

from pivrel.core.geometry.surface import Surface
from pivrel.core.measure.strip import one_way, pulled_tight, unfolded
from pivrel.core.measure.tape import Spot, lay_tape, neighbours
from tests.shapes import mesh_of


def strip_of(seed, count=40, wound=False):
    """The edges (N, 2, 3) that a way through a crumpled strip of triangles crosses, and its two ends."""
    random = np.random.default_rng(seed)
    left, right = [np.array([0.0, 100.0, 0.0])], [np.array([0.0, 0.0, 0.0])]
    edges = [(left[-1], right[-1])]
    for _ in range(count):
        step = np.array([random.uniform(5, 80), random.normal(0, 25), random.normal(0, 25)])
        if random.random() < 0.5:
            left.append(left[-1] + step)
        else:
            right.append(right[-1] + step)
        edges.append((left[-1], right[-1]))
    out = np.array(edges)
    if wound:
        turned = random.random(len(out)) < 0.5
        turned[0] = False
        out[turned] = out[turned, ::-1]
    start = np.array([-40.0, random.uniform(10, 90), random.normal(0, 10)])
    return start, out, out[-1].mean(axis=0) + (60.0, random.normal(0, 30), 10.0)


def length_of(start, edges, goal, share):
    way = np.concatenate([[start], edges[:, 0] + share[:, None] * (edges[:, 1] - edges[:, 0]), [goal]])
    return float(np.linalg.norm(np.diff(way, axis=0), axis=1).sum())


@pytest.mark.parametrize("seed", range(12))
def test_the_way_is_the_shortest_over_its_edges(seed):
    """The length is a convex function of where the edges are crossed (M. Sharir and A. Schorr, "On shortest paths in
    polyhedral spaces", SIAM Journal on Computing 15(1), 1986), so that going downhill finds the least."""
    start, edges, goal = strip_of(seed)
    share = pulled_tight(*unfolded(start, edges, goal))
    assert ((share >= 0) & (share <= 1)).all()
    found = minimize(
        lambda s: length_of(start, edges, goal, s), np.full(len(edges), 0.5), method="L-BFGS-B",
        bounds=[(0, 1)] * len(edges), options={"maxiter": 3000, "maxfun": 200_000, "ftol": 1e-13},
    )  # fmt: skip
    assert length_of(start, edges, goal, share) <= found.fun * (1 + 1e-9)
    assert length_of(start, edges, goal, share) == pytest.approx(found.fun, rel=1e-3)


@pytest.mark.parametrize("seed", range(4))
def test_unfolding_keeps_every_length(seed):
    start, edges, goal = strip_of(seed)
    flat, ends = unfolded(start, edges, goal)
    assert np.allclose(
        np.linalg.norm(flat[:, 1] - flat[:, 0], axis=1), np.linalg.norm(edges[:, 1] - edges[:, 0], axis=1)
    )
    for k in (0, 1):
        assert np.linalg.norm(ends[0] - flat[0, k]) == pytest.approx(np.linalg.norm(start - edges[0, k]))
        assert np.linalg.norm(ends[1] - flat[-1, k]) == pytest.approx(np.linalg.norm(goal - edges[-1, k]))


@pytest.mark.parametrize("seed", range(6))
def test_triangles_that_are_not_wound_alike_change_nothing(seed):
    assert np.array_equal(one_way(strip_of(seed, wound=True)[1]), strip_of(seed)[1])


@pytest.mark.parametrize(("wide", "high"), [(1, 1), (3, 2), (120, 90)])
def test_over_a_plane_the_tape_is_straight_however_it_is_divided(wide, high):
    """With noise in the plane, so that no edge lies where it would be easy."""
    random = np.random.default_rng(2)
    x, y = np.meshgrid(np.arange(wide + 1.0) * 100, np.arange(high + 1.0) * 100, indexing="ij")
    inner = (x > 0) & (x < wide * 100) & (y > 0) & (y < high * 100)
    x[inner] += random.uniform(-30, 30, int(inner.sum()))
    y[inner] += random.uniform(-30, 30, int(inner.sum()))
    points = np.stack([x.ravel(), y.ravel(), np.zeros(x.size)], axis=1) + (1e6, -1e6, 50.0)
    at = np.arange(x.size).reshape(x.shape)
    a, b, c, d = (one.ravel() for one in (at[:-1, :-1], at[1:, :-1], at[1:, 1:], at[:-1, 1:]))
    triangles = [*zip(a, b, c, strict=True), *zip(a, c, d, strict=True)]
    surface = Surface(mesh_of(points.tolist(), [list(map(int, t)) for t in triangles]))
    ends = [
        np.array([1e6 + 7.0, -1e6 + 3.0, 50.0]),
        np.array([1e6 + wide * 100 - 11.0, -1e6 + high * 100 - 2.0, 50.0]),
    ]

    def spot(place):
        away = np.abs(surface.centroids - place).sum(axis=1)
        for face in np.argsort(away)[:12]:
            p, q, r = surface.mesh.points[surface.mesh.corners[surface.triangles[face]]][:, :2]
            share = np.linalg.solve(np.stack([q - p, r - p], axis=1), place[:2] - p)
            if share.min() >= 0 and share.sum() <= 1:
                return Spot(place, int(face))
        raise AssertionError("no triangle holds the place")

    tape = lay_tape(surface, spot(ends[0]), spot(ends[1]), neighbours(surface, surface.edge_pairs))
    assert tape.over_surface and tape.length_mm == pytest.approx(np.linalg.norm(ends[1] - ends[0]), rel=1e-9)
    assert len(tape.triangles) == len(tape.points) - 1 > max(wide, high) - 1
