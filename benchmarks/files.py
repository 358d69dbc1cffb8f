"""Reading a million triangles from a file."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import numpy as np
import trimesh

from benchmarks.models import rolling
from benchmarks.timing import Result, compare, seconds
from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Folder, Upload
from pivrel.formats.reading import read_model
from pivrel.jobs.import_picture import draw_check
from pivrel.jobs.model_import import ModelFile, ModelImport
from pivrel.jobs.spare import SPARE


def reading() -> Iterator[Result]:
    mesh = rolling(1_000_000)
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        model = trimesh.Trimesh(mesh.points / 1000, mesh.corners.reshape(-1, 3), process=False)
        for suffix in (".obj", ".glb", ".stl"):
            path = root / f"rolling{suffix}"
            model.export(path)

            def ours(path: Path = path) -> object:
                return read_model(path.name, path.read_bytes(), Folder(root)).mesh

            def theirs(path: Path = path) -> object:
                return trimesh.load(path, force="mesh", process=False)

            def pickable(path: Path = path) -> object:
                return Surface(read_model(path.name, path.read_bytes(), Folder(root)).mesh).patches()

            def adjacent(path: Path = path) -> object:
                # Merged, as it must be for its faces to have neighbours.
                mesh = trimesh.load(path, force="mesh")
                assert isinstance(mesh, trimesh.Trimesh)
                return mesh.face_adjacency

            name, size = suffix[1:].upper(), path.stat().st_size
            on = f"1 M triangles, {size / 1e6:.0f} MB"
            yield compare(
                f"{name} read", on, ours, "trimesh.load, without merging", theirs, at_least=1, runs=3
            )
            peak = peak_memory(path)
            yield compare(
                f"{name} read and made pickable (peak {peak / 1e6:.0f} MB, {peak / size:.1f} times the file)",
                on,
                pickable,
                "trimesh.load with face_adjacency",
                adjacent,
                at_least=1,
                runs=3,
            )


def importing() -> Iterator[Result]:
    """An import as a server has it done, until it is checked and its picture drawn."""
    mesh = rolling(1_000_000)
    model = trimesh.Trimesh(mesh.points / 1000, mesh.corners.reshape(-1, 3), process=False)
    data = model.export(file_type="obj").encode()
    SPARE.keep()

    def imported() -> None:
        job = ModelImport(ModelFile("rolling.obj", "m", "z"), {"rolling.obj": data})
        while not job.is_read and not job.over:
            time.sleep(0.01)
        draw_check(Surface(job.imported().mesh), np.empty(0, np.int32))
        job.wait()
        job.stop()

    def pickable() -> None:
        Surface(read_model("rolling.obj", data, Upload({}), "m", "z").mesh).patches()

    imported()
    pickable()
    took: list[tuple[float, float]] = []
    for _ in range(5):
        # Until the next process stands ready, as it does between two imports of a user.
        time.sleep(READY_S)
        took.append((seconds(imported), seconds(pickable)))
    ours, theirs = (median(column) for column in zip(*took, strict=True))
    yield Result(
        "OBJ import, checked, with picture", f"1 M triangles, {len(data) / 1e6:.0f} MB", ours,
        "read and made pickable", theirs, "at most 3x", ours / theirs, ours <= 3 * theirs,
    )  # fmt: skip


READY_S = 4.0
"""In this time a process has loaded what it needs."""


def peak_memory(path: Path) -> int:
    """Bytes that a process of its own takes at its peak to read a model and make it pickable."""
    code = (
        "import sys; from pathlib import Path; from pivrel.formats.reading import read_model;"
        "from pivrel.formats.bundle import Upload; from pivrel.core.geometry.surface import Surface;"
        "path = Path(sys.argv[1]);"
        "Surface(read_model(path.name, path.read_bytes(), Upload({})).mesh).patches();"
        # Not getrusage: its figures are preserved across execve(2), so the parent's peak would be told.
        "print(Path('/proc/self/status').read_text().split('VmHWM:')[1].split()[0])"
    )
    run = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
    return int(run.stdout) * 1024
