"""Flattening: how much of a surface lies true, beside what others make of the same patches, with cuts and without."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace

import igl
import numpy as np
import xatlas
from tests.bent import winding_wall
from tests.core.test_flatten import cap, torus
from tests.samples import cup, of_compas, of_npm

from benchmarks.solved import arap, patch_region, saddle, slim, terrain
from benchmarks.timing import Result, compare
from pivrel.core.arrays import Floats
from pivrel.core.geometry.surface import Surface
from pivrel.core.solve.border import loops
from pivrel.core.solve.flattening import truly_flat
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.region import Region
from pivrel.core.solve.self_cutting import self_cut
from pivrel.core.solve.system import stretch_of
from pivrel.core.solve.true import true_share

ALLOWED = 1.05


def steep(u: Floats, v: Floats) -> Floats:
    """A terrain that no map without cuts lays true."""
    z = 500 * np.sin(6 * u) * np.cos(5 * v) + 250 * np.sin(9 * u + 4 * v)
    return np.column_stack([4000 * u, 3000 * v, z])


def region_of(surface: Surface) -> Region:
    (region,) = Ground(surface, np.arange(surface.mesh.face_count, dtype=np.int32)).regions
    _ = region.gradients, region.areas
    return region


def patches() -> dict[str, Region]:
    """About 20,000 triangles each."""
    return {
        "saddle": patch_region(saddle),
        "cap of 40 degrees": region_of(cap(40, 58)),
        "S-bend": patch_region(winding_wall()),
        "terrain": patch_region(terrain),
        "steep terrain": patch_region(steep),
        "hemisphere": region_of(cap(90, 58)),
    }


def at_best_size(region: Region, st: Floats) -> Floats:
    """The same at the size at which most of it lies true: those who normalise theirs lose nothing by it."""
    scales = np.exp(np.linspace(-0.15, 0.15, 61))
    return st * scales[int(np.argmax([true_share(region, st * scale, ALLOWED) for scale in scales]))]


def lscm(region: Region) -> Floats:
    """(V, 2) libigl's least-squares conformal map, as large as the surface."""
    loop = loops(region)[0]
    far = int(np.argmax(((loop.points - loop.points[0]) ** 2).sum(axis=1)))
    ends = np.array([[0.0, 0.0], [1.0, 0.0]])
    found, _ = igl.lscm(region.points, region.triangles.astype(np.int64), loop.vertices[[0, far]], ends)
    return as_large(region, found)


def by_xatlas(region: Region) -> tuple[Region, Floats]:
    """The region in the charts that xatlas cuts it into, and (V', 2) its map, as large as the surface."""
    atlas = xatlas.Atlas()
    atlas.add_mesh(region.points.astype(np.float32), region.triangles.astype(np.uint32))
    atlas.generate()
    was, triangles, uv = atlas[0]
    cut = replace(
        region,
        points=region.points[was],
        triangles=triangles.reshape(-1, 3).astype(np.int32),
        within=region.within[:0],
        share=region.share[:0],
    )
    # Its coordinates are shares of the sheet's width and height.
    return cut, as_large(cut, uv * (float(atlas.width), float(atlas.height)))


def as_large(region: Region, st: Floats) -> Floats:
    high, low = stretch_of(region, st)
    if region.areas @ (high * low) < 0:
        st = st * (-1.0, 1.0)
    out: Floats = st * np.sqrt(region.areas.sum() / max(float(region.areas @ np.abs(high * low)), 1e-300))
    return out


def seam_length(region: Region, cut: Region) -> float:
    """mm of edges at which a region was cut open."""
    return float(cut.lengths[cut.border].sum() - region.lengths[region.border].sum()) / 2


def share(region: Region, st: Floats) -> float:
    return 100 * true_share(region, at_best_size(region, st), ALLOWED)


def unfolding() -> Iterator[Result]:
    """The share of the area within 5 % of its size, without cuts: ours, and the best of four others."""
    for name, region in patches().items():
        begin = time.process_time()
        ours = 100 * true_share(region, truly_flat(replace(region), ALLOWED), ALLOWED)
        took = time.process_time() - begin
        cut, theirs = by_xatlas(region)
        others = {
            "LSCM, libigl": share(region, lscm(region)),
            "ARAP, libigl": share(region, arap(region, 10)),
            "SLIM, libigl": share(region, slim(region, 20)),
        }
        seams = seam_length(region, cut)
        on = f"{name}, {len(region.triangles) / 1000:.0f} k triangles, {took:.2f} s"
        for reference, value in others.items():
            met = ours >= value - 0.05
            yield Result(
                "flat, true share", on, ours, reference, value, "at least", ours / max(value, 0.1), met, "%"
            )
        charts = f"xatlas, which cut {seams / 1000:.1f} m"
        value = share(cut, theirs)
        # What cuts may well lie truer; it counts where it did not.
        met = seams > 1 or ours >= value - 0.05
        yield Result(
            "flat, true share", on, ours, charts, value, "at least", ours / max(value, 0.1), met, "%"
        )


def unfolding_soon() -> Iterator[Result]:
    """How soon, beside LSCM and as-rigid-as-possible steps."""
    for name in ("saddle", "steep terrain"):
        region = patch_region({"saddle": saddle, "steep terrain": steep}[name])

        def ours(region: Region = region) -> object:
            return truly_flat(replace(region), ALLOWED)

        def theirs(region: Region = region) -> object:
            return arap(replace(region), 3)

        yield compare(
            "flat, true",
            f"{name}, 20 k triangles",
            ours,
            "LSCM and ARAP, libigl",
            theirs,
            at_most=1.0,
            runs=5,
        )


def cutting() -> Iterator[Result]:
    """The share that lies true once it was cut by itself, beside the goal; and how long the cuts and the search are."""
    surfaces = {
        "hemisphere": region_of(cap(90, 58)),
        "torus": region_of(torus(100, 50)),
        "steep terrain": patch_region(steep),
        "cup with a handle": region_of(cup()),
        "bunny, of npm": region_of(of_npm("bunny")),
        "tube, of PyPI's compas": region_of(of_compas("tubemesh.obj")),
    }
    for name, region in surfaces.items():
        begin = time.process_time()
        cut, halves = self_cut(replace(region), 0.99, ALLOWED)
        st = truly_flat(cut, ALLOWED)
        took = time.process_time() - begin
        flips = int((stretch_of(cut, st)[1] <= 0).sum())
        length = float(region.lengths[halves].sum()) / 1000
        other, theirs = by_xatlas(region)
        ours = 100 * true_share(cut, st, ALLOWED)
        on = f"{name}: {length:.1f} m cut, {flips} flips, {took:.1f} s"
        reference = f"xatlas, {seam_length(region, other) / 1000:.1f} m cut"
        yield Result(
            "cut, true share",
            on,
            ours,
            reference,
            share(other, theirs),
            "99 %",
            ours / 99,
            ours >= 99 and not flips,
            "%",
        )
