"""Reading a million triangles from a file."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

import trimesh

from benchmarks.models import rolling
from benchmarks.timing import Result, compare
from pivrel.formats import read_model
from pivrel.formats.bundle import Folder


def reading() -> Iterator[Result]:
    mesh = rolling(1_000_000)
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        model = trimesh.Trimesh(mesh.points / 1000, mesh.corners.reshape(-1, 3), process=False)
        for suffix in (".obj", ".glb"):
            path = root / f"rolling{suffix}"
            model.export(path)

            def ours(path: Path = path) -> object:
                return read_model(path.name, path.read_bytes(), Folder(root)).mesh

            def theirs(path: Path = path) -> object:
                return trimesh.load(path, force="mesh", process=False)

            yield compare(
                f"{suffix[1:].upper()} read",
                f"1 M triangles, {path.stat().st_size / 1e6:.0f} MB",
                ours,
                "trimesh.load, without merging",
                theirs,
                at_least=1,
                runs=3,
            )
