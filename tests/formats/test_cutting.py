"""Single sheets cut out of faces for files, and what a file cannot blend."""

import numpy as np
import pytest

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All, Faces
from pivrel.core.projection import Box, Cylindrical, Planar, Triplanar
from pivrel.core.sheet import Material
from pivrel.formats.laid import Look
from pivrel.formats.model.gltf_write import write_glb
from tests.formats.test_handover import validated
from tests.laying import laid_model
from tests.shapes import column, cuboid

SIGN = Material("sign", (400.0, 300.0))
TILE = Material("tile", (250.0, 250.0))
LOOK = (Look(), Look(), Look())
FRONT = Datum((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))


def area_of(model, row):
    return float(model.surface.face_areas[model.face_finish == row].sum()) / 1e6


def test_a_sheet_is_cut_out_of_a_wall_with_its_true_area():
    surface = Surface(cuboid(2000, 300, 1000))
    sign = Finish(
        "Sign", SIGN, Faces((2,)), Planar(), FRONT, 15.0, None, (700.0, 300.0), (1.5, 1.5), tile=False
    )
    model = laid_model(surface, [Finish("Wall", TILE, All(), Box()), sign], [LOOK, LOOK])
    assert area_of(model, 1) == pytest.approx(0.4 * 0.3 * 1.5**2, rel=1e-9)
    assert area_of(model, 0) + area_of(model, 1) == pytest.approx(surface.area_m2, rel=1e-9)
    inside = np.repeat(model.face_finish == 1, np.diff(model.surface.mesh.face_start))
    assert model.st[inside].min() > -1e-6 and (model.st[inside] < np.array([400, 300]) + 1e-6).all()
    # Around it the wall's own pattern runs on, straight through the cut.
    wall = np.repeat(model.face_finish == 0, np.diff(model.surface.mesh.face_start))
    front = np.abs(model.surface.mesh.points[model.surface.mesh.corners][:, 1]) < 1e-9
    looks_front = np.repeat(model.surface.normals[:, 1] < 0, np.diff(model.surface.mesh.face_start))
    corners = model.surface.mesh.points[model.surface.mesh.corners]
    own = wall & front & looks_front
    np.testing.assert_allclose(model.st[own], corners[own][:, [0, 2]], atol=1e-6)


def test_sheets_over_each_other_and_over_nothing(tmp_path):
    surface = Surface(cuboid(2000, 300, 1000))
    first = Finish("A", SIGN, Faces((2,)), Planar(), FRONT, offset_mm=(100.0, 100.0), tile=False)
    second = Finish("B", SIGN, Faces((2,)), Planar(), FRONT, offset_mm=(300.0, 250.0), tile=False)
    model = laid_model(surface, [first, second], [LOOK, LOOK])
    assert area_of(model, 1) == pytest.approx(0.12)
    assert area_of(model, 0) == pytest.approx(0.12 - 0.2 * 0.15, rel=1e-9), "less what B lies over"
    assert area_of(model, BARE) == pytest.approx(surface.area_m2 - 0.24 + 0.03, rel=1e-9)
    (tmp_path / "m.glb").write_bytes(write_glb(model))
    assert validated(tmp_path / "m.glb")["numErrors"] == 0


def test_a_sheet_larger_than_its_faces_covers_them_whole():
    surface = Surface(column(16, 50, 100))
    label = Finish("Label", Material("l", (5000, 5000)), Faces(tuple(range(16))), Cylindrical(), Datum(), tile=False,
                   offset_mm=(-2500.0, -2500.0))  # fmt: skip
    model = laid_model(surface, [Finish("f", TILE, All()), label], [LOOK, LOOK])
    assert model.surface.mesh.face_count == surface.mesh.face_count, "no face was cut"
    assert (model.face_finish[:16] == 1).all() and (model.face_finish[16:] == 0).all()


def test_triplanar_is_written_by_the_strongest_axis_and_says_so():
    surface = Surface(cuboid())
    own = Material("grass", (100.0, 100.0))
    rock = Finish("Rock", TILE, All(), Triplanar(materials=(None, None, "grass")), Datum(),
                  axis_materials=(None, None, own))  # fmt: skip
    model = laid_model(surface, [rock], [(Look(), Look(), Look({}, 1.0))])
    assert [f.name for f in model.finishes] == ["Rock", "Rock z"]
    assert model.face_finish.tolist() == [1, 1, 0, 0, 0, 0]
    assert model.finishes[1].material == own and model.looks[1].metallic == 1.0
    assert any("strongest axis" in note for note in model.notes)
