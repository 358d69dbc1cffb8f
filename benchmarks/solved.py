"""Layings that follow the surface: how evenly they lie beside what others make of the same patches, and how soon."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import replace

import igl
import numpy as np
from tests.bent import grid, sector, winding_wall

from benchmarks.timing import Result, compare
from pivrel.core.arrays import Floats
from pivrel.core.projection import Flow
from pivrel.core.solve.border import Loop, loops
from pivrel.core.solve.flattening import flattened
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.region import Region
from pivrel.core.solve.system import stretch_of

REPEAT = (300.0, 300.0)


def terrain(u: Floats, v: Floats) -> Floats:
    z = 250 * np.sin(5 * u) * np.cos(4 * v) + 120 * np.sin(9 * u + 4 * v)
    return np.column_stack([4000 * u, 3000 * v, z])


def saddle(u: Floats, v: Floats) -> Floats:
    x, y = 3000 * u - 1500, 2400 * v - 1200
    return np.column_stack([x, y, (x**2 - y**2) / 4000])


Place = Callable[[Floats, Floats], Floats]

BENT: dict[str, Place] = {
    "S-wall": winding_wall(),
    "road": sector(8000.0, 12000.0, 1.6),
    "helicoid": sector(1000.0, 3000.0, 2.5, 900.0),
    "saddle": saddle,
    "terrain": terrain,
}
"""Patches between four borders."""

SMALL, LARGE = (100, 100), (320, 313)
"""Cells along and across for 20,000 and for 200,000 triangles."""


def patch(place: Place, cells: tuple[int, int] = SMALL) -> Ground:
    surface = grid(place, *cells, cut="triangles")
    _ = surface.triangles, surface.topology, surface.centroids
    return Ground(surface, np.arange(surface.mesh.face_count, dtype=np.int32))


def patch_region(place: Place) -> Region:
    """The patch as a region of which nothing is known yet."""
    ground = patch(place)
    (region,) = ground.regions
    _ = region.gradients, region.areas
    return region


def mean_stretch(region: Region, st: Floats) -> float:
    """The mean over the area of how far a triangle is stretched or squeezed, whichever is more; 1 is true."""
    high, low = stretch_of(region, st)
    return float(region.areas @ np.maximum(high, 1 / np.maximum(low, 1e-9)) / region.areas.sum())


def at_border(region: Region, loop: Loop, rows: tuple[int, int, int, int]) -> tuple[Floats, Floats]:
    """A rectangle as large as the four borders' mean lengths, its sides laid along them by their length."""
    a, b, c, d = rows
    long = (loop.length_of(a, b) + loop.length_of(c, d)) / 2
    wide = (loop.length_of(b, c) + loop.length_of(d, a)) / 2
    ends = np.array([[0.0, 0.0], [long, 0.0], [long, wide], [0.0, wide]])
    vertices, places = [], []
    for k, (start, stop) in enumerate(((a, b), (b, c), (c, d), (d, a))):
        run = loop.run(start, stop)
        side = np.linalg.norm(np.diff(region.points[run], axis=0), axis=1)
        share = np.concatenate([[0.0], np.cumsum(side)]) / side.sum()
        vertices.append(run[:-1])
        places.append((ends[k] + share[:, None] * (ends[(k + 1) % 4] - ends[k]))[:-1])
    return np.concatenate(vertices), np.concatenate(places)


def harmonic(region: Region) -> Floats:
    """(V, 2) the harmonic map onto that rectangle, by libigl."""
    loop = loops(region)[0]
    vertices, places = at_border(region, loop, loop.corner_rows)
    found: Floats = igl.harmonic(region.points, region.triangles.astype(np.int64), vertices, places, 1)
    return found


def coons(ground: Ground, region: Region, cells: tuple[int, int]) -> Floats:
    """(V, 2) the parameters of a Coons patch: the arc lengths of the borders, blended across.

    S. A. Coons, "Surfaces for computer-aided design of space forms", MIT Project MAC, 1967.
    """
    along, across = cells
    corners, vertices = region.named
    number = np.empty(len(region.points), np.int64)
    number[vertices] = ground.surface.mesh.corners[corners]
    row, column = number // (across + 1), number % (across + 1)
    net = np.empty((along + 1, across + 1, 3))
    net[row, column] = region.points

    def lengths(line: Floats) -> Floats:
        return np.append(0.0, np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1)))

    u, v = row / along, column / across
    s = (1 - v) * lengths(net[:, 0])[row] + v * lengths(net[:, -1])[row]
    t = (1 - u) * lengths(net[0])[column] + u * lengths(net[-1])[column]
    return np.column_stack([s, t])


def arap(region: Region, calls: int) -> Floats:
    """(V, 2) as rigid as possible by elements, by libigl, from its conformal map."""
    loop = loops(region)[0]
    far = int(np.argmax(((loop.points - loop.points[0]) ** 2).sum(axis=1)))
    ends = np.array([[0.0, 0.0], [float(np.linalg.norm(loop.points[far] - loop.points[0])), 0.0]])
    triangles = region.triangles.astype(np.int64)
    found, _ = igl.lscm(region.points, triangles, loop.vertices[[0, far]], ends)
    data = igl.ARAPData()
    data.energy = igl.ARAP_ENERGY_TYPE_ELEMENTS
    igl.arap_precomputation(region.points, triangles, 2, np.array([0], np.int64), data)
    for _ in range(calls):
        found = igl.arap_solve(found[:1], data, found)
    out: Floats = found
    return out


def slim(region: Region, steps: int) -> Floats:
    """(V, 2) the least symmetric Dirichlet energy, by libigl's SLIM, from its conformal map."""
    start = np.asfortranarray(arap(region, 1))
    data = igl.slim_precompute(
        np.asfortranarray(region.points), np.asfortranarray(region.triangles.astype(np.int32)), start,
        igl.MappingEnergyType.SYMMETRIC_DIRICHLET, np.empty(0, np.int32), np.empty((0, 2), order="F"), 0.0,
    )  # fmt: skip
    out: Floats = igl.slim_solve(data, steps)
    return out


def _beside(what: str, on: str, ours: float, reference: str, theirs: float, slack: float = 0.0) -> Result:
    goal = f"within {slack:g}" if slack else "no more"
    met = ours <= theirs + max(slack, 1e-4)
    return Result(what, on, ours, reference, theirs, goal, ours / theirs, met, "mean")


def _cpu(run: Callable[[], object], times: int = 3) -> float:
    """The least processor seconds of a few runs."""
    took = []
    for _ in range(times):
        begin = time.process_time()
        run()
        took.append(time.process_time() - begin)
    return min(took)


def _within(what: str, on: str, took: float, goal: float) -> Result:
    return Result(what, on, took, "goal, processor time", goal, f"{goal:g} s", took / goal, took <= goal)


def evenness() -> Iterator[Result]:
    """Mean stretch beside other maps of the same patches."""
    for name, place in BENT.items():
        ground = patch(place)
        (region,) = ground.regions
        flow = np.zeros((len(region.points), 2))
        vertices = region.named[1]
        flow[vertices] = Flow().solve(ground, REPEAT).laid(ground.surface, ground.faces)
        ours = mean_stretch(region, flow)
        yield _beside(
            "flow, mean stretch",
            name,
            ours,
            "Coons patch",
            mean_stretch(region, coons(ground, region, SMALL)),
        )
        yield _beside(
            "flow, mean stretch", name, ours, "harmonic map, libigl", mean_stretch(region, harmonic(region))
        )
        flat = mean_stretch(region, flattened(region))
        yield _beside(
            "flattening, mean stretch", name, flat, "ARAP, libigl", mean_stretch(region, arap(region, 10))
        )
        yield _beside(
            "flattening, mean stretch",
            name,
            flat,
            "SLIM, libigl",
            mean_stretch(region, slim(region, 20)),
            0.01,
        )


def times() -> Iterator[Result]:
    """How soon a laying is there, and how soon it follows a hand."""
    for name, place in (("terrain", terrain), ("saddle", saddle)):
        region = patch_region(place)

        def ours(region: Region = region) -> object:
            return flattened(replace(region))

        def theirs(region: Region = region) -> object:
            # Three of its calls, ten steps each, come to within 1e-4 of the energy that ours comes to rest at.
            return arap(replace(region), 3)

        yield compare(
            "flattening", f"{name}, 20 k triangles", ours, "LSCM and ARAP, libigl", theirs, at_most=1.0
        )
    for cells, cold_s, drag_s in ((SMALL, 0.3, 0.010), (LARGE, 3.5, 0.100)):
        ground = patch(terrain, cells)
        count = f"terrain, {ground.triangles // 1000} k triangles"

        def begin(ground: Ground = ground) -> object:
            return Flow().solve(Ground(ground.surface, ground.faces), REPEAT)

        cold = _cpu(begin)
        yield _within("flow, cold", count, cold, cold_s)
        Flow().solve(ground, REPEAT)
        step = iter(range(1_000_000))

        def drag(ground: Ground = ground, step: Iterator[int] = step) -> object:
            return Flow(limits_mm=(None, 2900.0 + next(step))).solve(ground, REPEAT, hasty=True)

        drag()
        yield _within("flow, its width dragged", count, _cpu(drag, 9), drag_s)
