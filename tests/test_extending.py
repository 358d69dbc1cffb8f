"""A projection and a format added as CONTRIBUTING says, and driven from a recipe to a GLB.

The package is copied, and the copy gets the files of the list and nothing else.
"""

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model

ROOT = Path(__file__).parents[1]

CORE = '''"""Slanted: the sheet pushed straight on from the front, its columns leaning. A toy."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.affine import composed, lay_sides
from pivrel.core.projection.base import ClosedForm
from pivrel.core.projection.fitting import Aim, Fit


@dataclass(frozen=True)
class Slanted(ClosedForm):
    """lean: mm along for each mm up."""

    lean: float = 0.5
    kind: ClassVar[str] = "slanted"

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        return Fit(Datum((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0)))

    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        rules = np.array([[[1, self.lean, 0, 0], [0, 1, 0, 0]]], float)
        side = self.sides(surface, faces, datum)
        return lay_sides(surface.mesh, faces, side, composed(rules, datum, sheet), dtype)
'''

RECIPE = '''"""Slanted as a recipe states it."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from pivrel.core.projection import Projection
from pivrel.core.projection.slanted import Slanted
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.values import Number


class SlantedModel(ProjectionBase):
    """The sheet with leaning columns."""

    core: ClassVar[type[Projection]] = Slanted
    kind: Literal["slanted"]
    lean: Number = 0.5

    def to_core(self) -> Slanted:
        return Slanted(self.lean)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Slanted)
        return cls(kind="slanted", lean=projection.lean)


class SlantedOptions(OptionsBase):
    """Options of a slanted laying."""

    kind: Literal["slanted"]
    lean: Number = 0.5
'''

FORMAT = '''"""Nine numbers a line: the corners of a triangle. A toy."""

from __future__ import annotations

from io import BytesIO

import numpy as np

from pivrel.core.geometry.mesh import Mesh
from pivrel.formats.laid import LaidModel
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.convention import Convention, from_model


def read(given: GivenFile) -> FoundModel:
    """The triangles of a file, in millimetres."""
    points = np.loadtxt(BytesIO(given.data), ndmin=2).reshape(-1, 3)
    count = len(points) // 3
    mesh = Mesh(
        points=points, corners=np.arange(3 * count, dtype=np.int32),
        face_start=np.arange(0, 3 * count + 1, 3, dtype=np.int32), face_part=np.zeros(count, np.int32),
        part_names=("triangles",),
    )  # fmt: skip
    return FoundModel(mesh)


def write(model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
    """The triangles of a laid model."""
    mesh = model.surface.mesh
    points = from_model(mesh.points[mesh.corners[model.surface.triangles]].reshape(-1, 3), convention)
    out = BytesIO()
    np.savetxt(out, points.reshape(-1, 9))
    return {f"{stem}.nine": out.getvalue()}
'''


def add_line(path: Path, after: str, line: str) -> None:
    """A line of a registry, after another."""
    text = path.read_text()
    assert text.count(after) == 1, f"{path.name} has no place for another {line.strip()!r}"
    path.write_text(text.replace(after, after + line))


def added(package: Path) -> list[Path]:
    """Adds the projection and the format; the files that were written or changed."""
    projection = [
        package / "core/projection/slanted.py",
        package / "recipe/projections/slanted.py",
        package / "recipe/projections/__init__.py",
    ]
    projection[0].write_text(CORE)
    projection[1].write_text(RECIPE)
    registry = projection[2]
    kinds = "from pivrel.recipe.projections.spherical import SphericalModel, SphericalOptions\n"
    add_line(registry, kinds, "from pivrel.recipe.projections.slanted import SlantedModel, SlantedOptions\n")
    for name in ("Model", "Options"):
        text = registry.read_text()
        registry.write_text(
            text.replace(f"    | Spherical{name}\n", f"    | Spherical{name}\n    | Slanted{name}\n")
        )
    formats = [package / "formats/model/nine.py", package / "formats/registry.py"]
    formats[0].write_text(FORMAT)
    line = '    ModelFormat("Nine", (".nine",), "z", None, "", 4, f"{_AT}.nine:read", f"{_AT}.nine:write"),\n'
    add_line(formats[1], "FORMATS = (\n", line)
    assert len(projection) <= 3 and len(formats) <= 3
    return [*projection, *formats]


@pytest.fixture(scope="module")
def house(tmp_path_factory):
    """The source tree with a projection and a format more. Compiled kernels come along, so nothing is compiled anew."""
    source = tmp_path_factory.mktemp("house")
    shutil.copytree(ROOT / "src/pivrel", source / "pivrel", ignore=shutil.ignore_patterns("static"))
    added(source / "pivrel")
    return source


def run(house, *args):
    """A command of the extended Pivrel."""
    done = subprocess.run(
        [sys.executable, "-m", "pivrel.cli", *map(str, args)],
        env={**os.environ, "PYTHONPATH": str(house)}, capture_output=True, text=True, timeout=300,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_a_toy_projection_and_a_toy_format_work_from_recipe_to_glb(house, tmp_path):
    """Two triangles that stand, 3 m x 2 m, laid with columns that lean half a millimetre a millimetre."""
    (tmp_path / "wall.nine").write_text("0 0 0 3000 0 0 3000 0 2000\n0 0 0 3000 0 2000 0 0 2000\n")
    recipe = {
        "recipe": 1,
        "materials": {"tile": {"name": "tile", "repeat_mm": [300, 200]}},
        "finishes": [
            {"name": "Wall", "material": "tile", "pick": {"all": True},
             "projection": {"kind": "slanted", "lean": 0.5}}
        ],
    }  # fmt: skip
    (tmp_path / "recipe.json").write_text(json.dumps(recipe))
    files = [tmp_path / "recipe.json", tmp_path / "wall.nine"]
    told = run(house, "apply", *files, "--unit", "mm", "-o", tmp_path / "wall.glb")
    assert told.startswith("Wall: 2 faces, 6.000 m²"), told

    back = read_model("wall.glb", (tmp_path / "wall.glb").read_bytes(), Upload({})).mesh
    place, uv = back.points[back.corners], back.uv_sets[0]
    # The closed form: s = x + z / 2, t = z, over a repeat of 300 x 200.
    wanted = np.column_stack([(place[:, 0] + place[:, 2] / 2) / 300, place[:, 2] / 200])
    shift = np.round(uv - wanted)
    assert (shift == shift[0]).all()
    np.testing.assert_allclose(uv - shift, wanted, atol=1e-4)

    # Written in the format that nobody knew, and measured, by the same registries.
    run(house, "apply", *files, "--unit", "mm", "-o", tmp_path / "again.nine")
    np.testing.assert_allclose(
        np.loadtxt(tmp_path / "again.nine"), np.loadtxt(tmp_path / "wall.nine"), atol=1e-6
    )
    measured = json.loads(run(house, "measure", *files, "--unit", "mm", "--json"))
    (piece,) = measured["finishes"][0]["pieces"]
    assert piece["projection"] == {"kind": "slanted", "lean": 0.5}
    assert "slanted" in run(house, "schema") and ".nine" in run(house, "inspect", "--help")


def test_contributing_lists_no_more_files_than_allowed():
    """At most 3 in Python and 2 in TypeScript, tests and what is generated aside; and every one is there."""
    text = (ROOT / "CONTRIBUTING.md").read_text()
    for what in ("projection", "look", "format", "edit"):
        section = re.search(
            rf"^### A {what}\n(.*?)(?=^#|\Z)|^### An {what}\n(.*?)(?=^#|\Z)", text, re.M | re.S
        )
        assert section, f"CONTRIBUTING does not say how to add a {what}"
        files = re.findall(r"^\d+\. `([^`]+)`", section.group(0), re.M)
        python = [f for f in files if f.endswith(".py")]
        typescript = [f for f in files if f.endswith((".ts", ".tsx"))]
        assert 1 <= len(python) <= 3 and 1 <= len(typescript) <= 2, (what, files)
        for file in files:
            path = ROOT / file
            assert "NAME" in file or path.is_file(), f"{file} is not there"
            assert path.parent.is_dir(), f"{path.parent} is not there"
