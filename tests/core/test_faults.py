"""Faults of models: found, counted where they are, and mended; against trimesh's own checks."""

from dataclasses import replace

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.components import find_components
from pivrel.core.geometry.faults import find_faults, mended, submesh
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from tests.shapes import cuboid, mesh_of
from tests.test_revision import box


def counts(mesh):
    return {fault.key: fault.count for fault in find_faults(Surface(mesh))}


def turned(mesh, faces):
    corners = mesh.corners.copy()
    for f in faces:
        a, b = mesh.face_start[f], mesh.face_start[f + 1]
        corners[a:b] = corners[a:b][::-1]
    return replace(mesh, corners=corners)


def test_a_sound_body_has_no_faults():
    assert counts(box("Block", (10, 20, 30), (0, 0, 0))) == {}


def test_inside_out_and_mixed_bodies_are_turned_outward():
    ball = trimesh.creation.icosphere(subdivisions=2, radius=100)
    data = ball.export(file_type="stl")
    mesh = read_model("ball.stl", data, Upload({}), "mm", "z").mesh
    inside_out = turned(mesh, range(mesh.face_count))
    some = turned(mesh, range(0, mesh.face_count, 3))
    assert counts(inside_out)["inverted"] == 1 and "mixed" not in counts(inside_out)
    assert counts(some)["mixed"] == len(range(0, mesh.face_count, 3))
    for broken in (inside_out, some, turned(inside_out, range(0, mesh.face_count, 4))):
        surface = Surface(mended(broken, ["mixed", "inverted"]))
        theirs = trimesh.Trimesh(surface.mesh.points, surface.mesh.corners.reshape(-1, 3))
        assert theirs.volume > 0 and theirs.is_winding_consistent and theirs.is_watertight
        assert (
            theirs.volume == np.float64(theirs.volume)
            and abs(theirs.volume - ball.volume) < 1e-3 * ball.volume
        )


def test_shading_normals_turn_with_their_faces():
    mesh = box("Block", (10, 20, 30), (0, 0, 0))
    surface = Surface(mesh)
    unit = surface.normals / np.linalg.norm(surface.normals, axis=1, keepdims=True)
    mesh = replace(turned(mesh, range(6)), normals=np.repeat(-unit, 4, axis=0).astype(np.float32))
    after = mended(mesh, ["inverted"])
    assert after.normals is not None
    np.testing.assert_allclose(after.normals, np.repeat(unit, 4, axis=0), atol=1e-6)


def test_parts_that_touch_are_each_closed():
    bodies = find_components(
        Surface(merged([box("A", (10, 10, 10), (0, 0, 0)), box("B", (10, 10, 10), (10, 0, 0))]))
    )
    assert len(bodies.closed) == 2 and bodies.closed.all()
    np.testing.assert_allclose(bodies.volume_mm3, [1000, 1000])


def test_empty_double_and_far_faces_and_split_edges():
    text = "\n".join(f"v {1e9 + x} {y} 0" for x, y in ((0, 0), (5, 0), (10, 0), (10, 10), (0, 10), (0, 0)))
    mesh = read_model(
        "a.obj", (text + "\nf 1 2 3 4 5\nf 5 4 3 2 1\nf 1 2 3\nf 6 3 4\n").encode(), Upload({}), "mm", "z"
    ).mesh
    found = counts(mesh)
    assert found["degenerate"] == 1 and found["duplicate"] == 1 and found["coincident"] == 1
    assert found["straight"] == 2 and found["far"] == 1 and found["unnamed"] == 1
    after = mended(mesh, ["degenerate", "duplicate"])
    assert after.face_count == 2 and "degenerate" not in counts(after)


def test_nothing_is_left_of_a_model_of_faults_alone():
    mesh = read_model("a.obj", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", Upload({}), "mm", "z").mesh
    assert mended(mesh, ["degenerate"]).face_count == 1, "a model without faces could not be opened"


def test_kept_faces_keep_what_belongs_to_them():
    mesh = merged([cuboid(), replace(cuboid(), part_names=("B",))])
    only = submesh(mesh, np.arange(12) >= 8)
    assert only.part_names == ("B",) and only.face_count == 4
    np.testing.assert_array_equal(Surface(only).centroids, Surface(mesh).centroids[8:])


@pytest.mark.parametrize("seed", range(5))
def test_faces_that_lie_on_others_are_those_with_the_same_places(seed):
    """Polygons of 3 to 20 corners among few places, so that many are there twice, turned round or begun elsewhere."""
    rng = np.random.default_rng(seed)
    points = rng.uniform(0, 1000, (24, 3))
    faces = [rng.permutation(24)[:size] for size in rng.choice([3, 4, 5, 20], 300)]
    faces += [np.roll(faces[k], rng.integers(3))[:: rng.choice([1, -1])] for k in rng.integers(0, 300, 200)]
    found = {f.key: f for f in find_faults(Surface(mesh_of(points, faces)))}
    seen, again = set(), []
    for row, face in enumerate(faces):
        again += [row] if frozenset(face.tolist()) in seen else []
        seen.add(frozenset(face.tolist()))
    assert found["duplicate"].faces.tolist() == again
