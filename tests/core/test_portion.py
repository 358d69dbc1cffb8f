"""Some faces by themselves: numbered as a look at every face would number them; and rows that are the same."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pivrel.core.geometry.edge_pairs import GLUED
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.portion import edges_within, portion
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.geometry.surface import Surface
from tests.shapes import column, cuboid, strips

SURFACE = Surface(merged([cuboid(), strips(24), column(12, rows=3)]))
COUNT = SURFACE.mesh.face_count


@pytest.mark.parametrize("seed", range(6))
def test_a_portion_is_what_its_faces_are_on_the_whole_surface(seed):
    rng = np.random.default_rng(seed)
    faces = np.flatnonzero(rng.random(COUNT) < (0.1, 0.5, 0.9)[seed % 3]).astype(np.int32)
    own, held, mesh = portion(SURFACE, faces), SURFACE.held(faces), SURFACE.mesh
    corners = np.flatnonzero(SURFACE.corners_of(faces))
    np.testing.assert_array_equal(own.points, mesh.corners[corners])
    triangles = np.flatnonzero(held[SURFACE.triangle_face])
    np.testing.assert_array_equal(own.ids, triangles)
    np.testing.assert_array_equal(corners[own.triangles], SURFACE.triangles[triangles])
    np.testing.assert_array_equal(faces[own.row], SURFACE.triangle_face[triangles])
    np.testing.assert_array_equal(own.areas, SURFACE.triangle_areas[triangles])
    np.testing.assert_array_equal(corners[own.own(corners)], corners)
    pairs, face = SURFACE.edge_pairs, SURFACE.topology.corner_face
    both = held[face[pairs.near]] & held[face[pairs.far]] & (pairs.opening > GLUED)
    np.testing.assert_array_equal(edges_within(own), np.flatnonzero(both))
    np.testing.assert_array_equal(SURFACE.points_of(faces), mesh.points[np.unique(mesh.corners[corners])])


def test_all_faces_are_the_surface_itself():
    own = portion(SURFACE, np.arange(COUNT, dtype=np.int32))
    assert own.is_whole and own.triangles is SURFACE.triangles and own.points is not None
    np.testing.assert_array_equal(own.ids, np.arange(len(SURFACE.triangles)))
    assert len(edges_within(own)) == (SURFACE.edge_pairs.opening > GLUED).sum()


@given(st.lists(st.tuples(st.integers(-2, 2), st.sampled_from([0.0, -0.0, 1.5, np.inf])), max_size=60))
def test_same_rows_are_those_that_python_finds(rows):
    values = np.array(rows, np.float32).reshape(-1, 2)
    number, first = same_rows(values)
    seen: dict[tuple[float, ...], int] = {}
    wanted = [seen.setdefault((a + 0.0, b + 0.0), len(seen)) for a, b in values.tolist()]
    assert number.tolist() == wanted
    np.testing.assert_array_equal(values[first][number], values)
