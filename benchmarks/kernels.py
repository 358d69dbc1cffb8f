"""Laying and topology on a million triangles."""

from __future__ import annotations

import tracemalloc
from collections.abc import Iterator
from functools import partial

import numba
import numpy as np
import trimesh

from benchmarks.loops import Loop
from benchmarks.models import blocks, rolling, unshared
from benchmarks.timing import Result, compare
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.patches import find_patches
from pivrel.core.geometry.polygons import face_normals
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.topology import build_topology
from pivrel.core.laying.lay import UNTOUCHED
from pivrel.core.projection import Box, ClosedForm, Cylindrical, Planar, Spherical, Triplanar
from pivrel.core.sheet import Placement
from pivrel.core.sheet.run_on import run_on

MILLION = 1_000_000


PROJECTED: tuple[tuple[ClosedForm, float], ...] = (
    (Planar(), 3),
    (Box(), 3),
    (Box("wrapped", (40_000.0, 40_000.0, 2_000.0)), 3),
    (Cylindrical(20_000.0, caps=False), 6),
    (Spherical(20_000.0), 6),
    (Triplanar(), 3),
)
"""Each with its goal: at most so many times the copy."""

IN_C = 1.2
"""At most so many times the plain C loop of the same formula."""


def kernels() -> Iterator[Result]:
    mesh = unshared(rolling(MILLION))
    surface = Surface(mesh)
    faces = np.arange(mesh.face_count, dtype=np.int32)
    sheet = Placement(90.0, (10.0, 20.0), (1.5, 1.5)).matrix
    datum = Datum((1.0, 2.0, 3.0), (1.0, 1.0, 0.0), (0.0, 0.2, 1.0))
    # Copying an array reads and writes it once: half of it in, half of it out is what laying moves.
    moved = mesh.points.nbytes + mesh.corners.nbytes + surface.normals.nbytes + mesh.corner_count * 8
    source = np.random.default_rng(1).random(moved // 16)
    on, every = "1 M triangles, unshared corners", numba.get_num_threads()
    for projection, copies in PROJECTED:
        wrapped = isinstance(projection, Box) and projection.corners == "wrapped"
        name = f"{projection.kind}{', wrapped' if wrapped else ''} laying"

        def lay(projection: ClosedForm = projection) -> np.ndarray:
            # float32, as the view draws it.
            return projection.lay(surface, faces, datum, sheet, np.float32)

        yield compare(
            name,
            on,
            lay,
            "numpy copyto of the same bytes",
            lambda: np.copyto(np.empty_like(source), source),
            at_most=copies,
        )
        if wrapped or isinstance(projection, Triplanar):
            continue
        loop = Loop(surface, projection, datum, sheet)
        assert np.allclose(loop.lay(1), lay(), rtol=1e-5, atol=0.01), name
        for threads in (1, 2):
            numba.set_num_threads(threads)
            yield compare(
                name, f"the same, threads: {threads}", lay, "a plain C loop",
                partial(loop.lay, threads), at_most=IN_C,
            )  # fmt: skip
        numba.set_num_threads(every)
    yield _memory(surface, faces, datum, sheet)


def _memory(surface: Surface, faces: np.ndarray, datum: Datum, sheet: np.ndarray) -> Result:
    mesh = surface.mesh
    tracemalloc.start()
    out = Box().lay(surface, faces, datum, sheet)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    ends = (
        mesh.points.nbytes
        + mesh.corners.nbytes
        + mesh.face_start.nbytes
        + surface.normals.nbytes
        + out.nbytes
    )
    share = (ends - out.nbytes + peak) / ends
    return Result(
        "memory of box laying", "1 M triangles (MB for ms)", peak / 1e9, "inputs and outputs (MB)",
        ends / 1e9, "at most 3x", share, share <= 3,
    )  # fmt: skip


def topology() -> Iterator[Result]:
    mesh = rolling(MILLION)
    faces = mesh.corners.reshape(-1, 3)

    def ours() -> object:
        normals = face_normals(mesh.points, mesh.corners, mesh.face_start)
        found = build_topology(mesh.points, mesh.corners, mesh.face_start, mesh.face_part)
        return find_patches(normals, found)

    def theirs() -> object:
        other = trimesh.Trimesh(mesh.points, faces, process=False)
        return other.face_adjacency, other.facets

    yield compare(
        "edges, neighbours, patches",
        "1 M triangles, shared points",
        ours,
        "trimesh face_adjacency + facets",
        theirs,
        at_least=1,
        runs=3,
    )


def running_on() -> Iterator[Result]:
    """Choosing the edges over which a pattern runs on, beside finding neighbours and patches at all."""
    mesh = blocks(834, 10)
    surface = Surface(mesh)
    faces = np.arange(mesh.face_count, dtype=np.int32)
    q = np.zeros((mesh.corner_count, 2))
    q[:] = Box().lay(surface, faces, Datum((-3.0, -5.0, -7.0)), UNTOUCHED)

    def ours() -> object:
        surface.__dict__.pop("edge_pairs", None)
        return run_on(surface, faces, q)

    def adjacency() -> object:
        found = build_topology(mesh.points, mesh.corners, mesh.face_start, mesh.face_part)
        return find_patches(surface.normals, found)

    yield compare(
        "running on", f"{834 * 6:,} patches, {mesh.face_count:,} faces",
        lambda: run_on(surface, faces, q), "their neighbours and patches", adjacency, at_most=3,
    )  # fmt: skip
