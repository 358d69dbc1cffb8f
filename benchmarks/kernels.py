"""Laying and topology on a million triangles."""

from __future__ import annotations

import tracemalloc
from collections.abc import Iterator

import numpy as np
import trimesh
import vtk
from vtk.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray

from benchmarks.models import rolling, unshared
from benchmarks.timing import Result, compare
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.patches import find_patches
from pivrel.core.geometry.polygons import face_normals
from pivrel.core.geometry.topology import build_topology
from pivrel.core.projection import PROJECTIONS, Box, Projection
from pivrel.core.sheet import Placement

MILLION = 1_000_000


def vtk_mesh(mesh: Mesh) -> vtk.vtkPolyData:
    data = vtk.vtkPolyData()
    points = vtk.vtkPoints()
    points.SetData(numpy_to_vtk(mesh.points, deep=True))
    cells = vtk.vtkCellArray()
    faces = np.column_stack([np.full(mesh.face_count, 3), mesh.corners.reshape(-1, 3)]).astype(np.int64)
    cells.SetCells(mesh.face_count, numpy_to_vtkIdTypeArray(faces.ravel(), deep=True))
    data.SetPoints(points)
    data.SetPolys(cells)
    return data


def kernels() -> Iterator[Result]:
    mesh = unshared(rolling(MILLION))
    normals = face_normals(mesh.points, mesh.corners, mesh.face_start)
    faces = np.arange(mesh.face_count, dtype=np.int32)
    sheet = Placement(90.0, (10.0, 20.0), (1.5, 1.5)).matrix
    datum = Datum((1.0, 2.0, 3.0), (1.0, 1.0, 0.0), (0.0, 0.2, 1.0))
    # Copying an array reads and writes it once: half of it in, half of it out is what laying moves.
    moved = mesh.points.nbytes + mesh.corners.nbytes + normals.nbytes + mesh.corner_count * 8
    source = np.random.default_rng(1).random(moved // 16)
    plane = vtk.vtkTextureMapToPlane()
    plane.SetInputData(vtk_mesh(mesh))
    plane.SetOrigin(0, 0, 0)
    plane.SetPoint1(1000, 0, 0)
    plane.SetPoint2(0, 1000, 0)

    def vtk_plane() -> None:
        plane.Modified()
        plane.Update()

    for kind in PROJECTIONS.values():
        projection = kind()

        def lay(projection: Projection = projection) -> object:
            # float32, as VTK writes it and as the view draws it.
            return projection.lay(mesh, normals, faces, datum, sheet, np.float32)

        yield compare(
            f"{projection.kind} laying",
            "1 M triangles, unshared corners",
            lay,
            "numpy copyto of the same bytes",
            lambda: np.copyto(np.empty_like(source), source),
            at_most=3,
        )
        yield compare(
            f"{projection.kind} laying",
            "1 M triangles, unshared corners",
            lay,
            "VTK vtkTextureMapToPlane",
            vtk_plane,
            at_least=6,
        )
    yield _memory(mesh, normals, faces, datum, sheet)


def _memory(mesh: Mesh, normals: np.ndarray, faces: np.ndarray, datum: Datum, sheet: np.ndarray) -> Result:
    tracemalloc.start()
    out = Box().lay(mesh, normals, faces, datum, sheet)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    ends = mesh.points.nbytes + mesh.corners.nbytes + mesh.face_start.nbytes + normals.nbytes + out.nbytes
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
