"""STEP and IFC against the libraries that wrote the samples, and against hand calculations."""

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import FormatError, Upload
from pivrel.formats.reading import read_model
from tests.formats import cad


def read(name, data, **asked):
    return read_model(name, data, Upload({}), **asked)


def volume(mesh, faces=None):
    """mm³ by the divergence theorem."""
    surface = Surface(mesh)
    a, b, c = (mesh.points[mesh.corners[surface.triangles[:, k]]] for k in range(3))
    each = np.einsum("ij,ij->i", a, np.cross(b, c)) / 6
    return each.sum() if faces is None else each[np.isin(surface.triangle_face, faces)].sum()


def test_step_gives_parts_colors_and_exact_surfaces():
    imported = read("fixture.step", cad.step())
    mesh = imported.mesh
    assert mesh.part_names == ("Fixture/Plate", "Fixture/Cone", "Fixture/Ball", "Fixture/Ring")
    assert (imported.unit, imported.up, imported.guessed) == ("mm", "z", False)
    red = mesh.face_source[mesh.face_part == 0]
    assert len(np.unique(red)) == 1 and mesh.sources[red[0]].rgba[:3] == (0.8, 0.1, 0.1)
    np.testing.assert_allclose(mesh.bounds(), [[0, -15, -9], [195, 40, 20]], atol=0.06)
    kinds = [surface.kind for surface in mesh.exact]
    assert {k: kinds.count(k) for k in set(kinds)} == {
        "plane": 8,
        "cylinder": 1,
        "cone": 1,
        "sphere": 1,
        "torus": 1,
    }
    by_kind = {surface.kind: surface for surface in mesh.exact}
    hole, cone, ball, ring = (by_kind[k] for k in ("cylinder", "cone", "sphere", "torus"))
    assert abs(hole.radius_mm - 6) < 1e-6
    assert np.linalg.norm(np.cross(hole.axis, cad.HOLE_AXIS)) < 1e-6
    assert np.linalg.norm(np.cross(np.subtract(hole.origin_mm, (20, 20, -1)), cad.HOLE_AXIS)) < 1e-6
    assert abs(cone.half_angle_deg) == pytest.approx(np.degrees(np.arctan2(6, 15)), abs=1e-6)
    side = mesh.points[
        np.unique(
            mesh.corners[Surface(mesh).corners_of(np.flatnonzero(mesh.face_patch == kinds.index("cone")))]
        )
    ]
    along = (side - cone.origin_mm) @ cone.axis
    off = np.linalg.norm(side - cone.origin_mm - along[:, None] * np.array(cone.axis), axis=1)
    np.testing.assert_allclose(
        off, cone.radius_mm + along * np.tan(np.radians(cone.half_angle_deg)), atol=1e-6
    )
    np.testing.assert_allclose(ball.origin_mm, (140, 0, 0), atol=1e-6)
    assert (ball.radius_mm, ring.radius_mm, ring.tube_mm) == pytest.approx((9, 12, 3), abs=1e-6)


def test_step_patches_are_the_b_rep_faces_and_look_outward():
    mesh = read("fixture.step", cad.step()).mesh
    surface = Surface(mesh)
    assert surface.patches().max() + 1 == 12, "as many as the kernel has faces"
    plate = np.flatnonzero(mesh.face_part == 0)
    exact = 60 * 40 * 20 - np.pi * 36 * 20 / cad.HOLE_AXIS[2]
    assert volume(mesh, plate) == pytest.approx(exact, rel=1e-3)
    normals = mesh.normals.astype(float)
    facing = np.einsum("ij,ij->i", normals, np.repeat(surface.normals, 3, axis=0))
    assert (facing > 0).all(), "shading normals agree with the winding"


def test_step_in_inches_has_the_same_size_and_tolerance_refines_steadily():
    fine = read("fixture.step", cad.step("INCH"), tolerance_mm=0.005)
    assert fine.unit == "in"
    np.testing.assert_allclose(fine.mesh.bounds(), [[0, -15, -9], [195, 40, 20]], atol=0.01)
    usual = read("fixture.step", cad.step())
    assert fine.mesh.face_count > usual.mesh.face_count
    again = read("fixture.step", cad.step())
    np.testing.assert_array_equal(usual.mesh.points, again.mesh.points)
    np.testing.assert_array_equal(usual.mesh.corners, again.mesh.corners)


def test_ifc_elements_storeys_materials_and_areas():
    imported = read("house.ifc", cad.ifc())
    mesh, surface = imported.mesh, Surface(imported.mesh)
    assert imported.unit == "mm"
    facts = dict(zip(mesh.part_names, zip(mesh.part_elements, mesh.part_storeys, strict=True), strict=True))
    assert facts == {
        "Wall 0": ("Wall", "Ground"), "Slab 0": ("Slab", "Ground"),
        "Wall 1": ("Wall", "Upper"), "Slab 1": ("Slab", "Upper"),
    }  # fmt: skip
    areas = {n: surface.face_areas[mesh.face_part == p].sum() / 1e6 for p, n in enumerate(mesh.part_names)}
    # Two sides less the opening, ends, top and bottom, and the reveals of the opening.
    wall = 2 * (5 * 3 - 1 * 1.2) + 2 * 3 * 0.2 + 2 * 5 * 0.2 + 2 * (1 + 1.2) * 0.2
    slab = 2 * 6 * 4 + 2 * (6 + 4) * 0.2
    for name, area in areas.items():
        assert area == pytest.approx(wall if "Wall" in name else slab, rel=1e-3), name
    np.testing.assert_allclose(mesh.bounds(), [[0, 0, -200], [6000, 4000, 6000]], atol=1e-6)
    of_walls = {mesh.sources[s].name for s in mesh.face_source[np.isin(mesh.face_part, [0, 2])]}
    assert {"Brick", "Render"} <= {s.name for s in mesh.sources} and of_walls <= {
        "Brick",
        "Render",
    } | of_walls


@pytest.mark.parametrize(
    ("name", "data", "word"),
    [
        ("a.step", b"solid", "ISO-10303-21"),
        ("a.step", b"ISO-10303-21;\nHEADER;", "cannot read"),
        ("a.ifc", b"#1=IFCWALL", "ISO-10303-21"),
        ("a.ifc", b"ISO-10303-21;\nHEADER;", "broken"),
    ],
)
def test_broken_cad_files_are_one_sentence(name, data, word):
    with pytest.raises(FormatError) as error, cad.quiet():
        read(name, data)
    assert word in str(error.value) and "\n" not in str(error.value)


def test_units_are_not_asked_of_formats_that_state_them():
    with pytest.raises(FormatError, match="state their unit"):
        read("a.step", cad.step(), unit="m")
