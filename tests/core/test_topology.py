"""Edges, neighbours and patches, against trimesh and by hand."""

from dataclasses import replace

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.surface import Surface
from tests.shapes import cuboid, mesh_of, strips


def as_faces(surface):
    return np.sort(surface.topology.corner_face[surface.topology.pairs], axis=1)


def unshared(mesh):
    return replace(
        mesh, points=mesh.points[mesh.corners], corners=np.arange(mesh.corner_count, dtype=np.int32)
    )


def test_a_cube_has_twelve_edges_however_it_is_stored():
    for mesh in (cuboid(), unshared(cuboid())):
        topology = Surface(mesh).topology
        assert len(topology.pairs) == 12
        assert topology.manifold.all() and topology.opposed.all()
        assert len(topology.open_edges) == 0
        assert Surface(mesh).patches().tolist() == [0, 1, 2, 3, 4, 5]


def test_neighbours_agree_with_trimesh():
    shape = trimesh.creation.annulus(300, 500, 200)
    ours = as_faces(Surface(mesh_of(shape.vertices, shape.faces)))
    theirs = np.sort(shape.face_adjacency, axis=1)
    assert {tuple(p) for p in ours.tolist()} == {tuple(p) for p in theirs.tolist()}


def test_vertices_within_a_micrometre_are_one_place_even_across_a_cell_border():
    left = [(0, 0, 0), (16e-3, 0, 0), (16e-3, 100, 0), (0, 100, 0)]
    right = [(16e-3 + 5e-4, 0, 0), (100, 0, 0), (100, 100, 0), (16e-3 - 5e-4, 100, 0)]
    surface = Surface(mesh_of(left + right, [(0, 1, 2, 3), (4, 5, 6, 7)]))
    assert len(surface.topology.pairs) == 1


def test_a_barrel_of_96_strips_is_one_patch_and_coarse_ones_are_not():
    assert Surface(strips(96)).patches().max() == 0
    assert Surface(strips(6)).patches().max() == 0, "30 degrees a strip is just within the crease"
    assert Surface(strips(5)).patches().max() == 4
    assert Surface(strips(5)).patches(40.0).max() == 0


def test_a_face_wound_the_wrong_way_still_belongs_to_its_patch():
    points = [(0, 0, 0), (1, 0, 0), (2, 0, 0), (0, 1, 0), (1, 1, 0), (2, 1, 0)]
    surface = Surface(mesh_of(points, [(0, 1, 4, 3), (1, 4, 5, 2)]))
    assert not surface.topology.opposed.any()
    assert surface.patches().tolist() == [0, 0]


def test_parts_that_touch_keep_the_edges_that_they_would_have_alone():
    # Two flat plates, each of two faces, one exactly above the other along the joint.
    points = [(0, 0, 0), (1, 0, 0), (2, 0, 0), (0, 1, 0), (1, 1, 0), (2, 1, 0), (1, 0, 1), (1, 1, 1)]
    faces = [(0, 1, 4, 3), (1, 2, 5, 4), (1, 6, 7, 4)]
    alone = Surface(mesh_of(points, faces, ("plate", "fin"), [0, 0, 1]))
    assert alone.patches().tolist() == [0, 0, 1]
    together = Surface(mesh_of(points, faces))
    assert together.patches().tolist() == [0, 1, 2], "an edge of three faces of one part is a crease"


@pytest.mark.parametrize("seed", range(3))
def test_face_order_does_not_matter(seed):
    mesh = strips(40)
    order = np.random.default_rng(seed).permutation(mesh.face_count)
    shuffled = mesh_of(mesh.points, [mesh.corners[f * 4 : f * 4 + 4] for f in order])
    assert Surface(shuffled).patches().max() == 0
