"""Faces that are alike: planes, rings, copies; and rules by what a building model states."""

from dataclasses import replace

import numpy as np
import pytest

from pivrel.core import picks
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks.similar_faces import copies, coplanar, ring, same_exact_surface
from pivrel.demo import lido
from pivrel.formats.bundle import Upload
from pivrel.formats.reading import read_model
from pivrel.recipe import FinishModel
from pivrel.recipe.pick_phrases import pick_phrase
from tests.formats import cad
from tests.shapes import column, cuboid
from tests.test_revision import box


def test_faces_in_one_plane_across_parts_but_not_their_backs():
    surface = Surface(
        merged(
            [
                box("A", (100, 100, 100), (0, 0, 0)),
                box("B", (100, 100, 100), (500, 0, 0)),
                box("C", (100, 100, 100), (0, 100, 0)),
            ]
        )
    )
    normals = surface.normals / np.linalg.norm(surface.normals, axis=1, keepdims=True)
    front = int(np.argmin(normals[:6, 1]))
    found = np.flatnonzero(coplanar(surface, front))
    assert found.tolist() == [front, front + 6]
    back = int(np.argmax(normals[:6, 1]))
    assert np.flatnonzero(coplanar(surface, back)).tolist() == [back, back + 6], (
        "C looks at it from the other side"
    )


def test_a_ring_goes_round_or_along_by_the_nearest_edge():
    surface = Surface(column(16, 500, 2000, rows=5))
    face = int(np.argmin(np.linalg.norm(surface.centroids - (490, 98, 1000), axis=1)))
    middle = surface.centroids[face]
    round_it = ring(surface, face, middle + (0, 150, 0))
    assert round_it.sum() == 16 and np.ptp(surface.centroids[round_it, 2]) < 1e-9
    along = ring(surface, face, middle + (0, 0, 150))
    # Up to the caps, which have an even number of sides: over them and down the other side.
    assert along[face] and along.sum() == 2 * 5 + 2
    triangle = read_model("t.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", Upload({})).mesh
    assert ring(Surface(triangle), 0, np.zeros(3)).tolist() == [True]


def test_copies_are_found_wherever_they_stand_but_scaled_ones_are_not():
    turn = np.array([[0, -1, 0], [1, 0, 0], [0, 0, 1.0]])
    board = box("A", (140, 28, 2150), (0, 0, 0))
    leaning = replace(board, points=board.points @ turn.T + (900, 50, 3), part_names=("B",))
    surface = Surface(merged([board, leaning, box("C", (140, 28, 1900), (300, 0, 0))]))
    assert copies(surface, 0).tolist() == [0, 1]
    whole = Surface(lido.build())
    names = whole.mesh.part_names
    found = {names[p] for p in copies(whole, names.index("Column 1"))}
    assert found == {f"Column {k}" for k in range(1, 7)}


def test_patches_of_one_exact_surface():
    surface = Surface(read_model("a.step", cad.step(), Upload({})).mesh)
    hole = next(k for k, e in enumerate(surface.mesh.exact) if e.kind == "cylinder")
    face = int(np.argmax(surface.mesh.face_patch == hole))
    assert same_exact_surface(surface, face).tolist() == [hole]
    assert same_exact_surface(Surface(cuboid()), 3).tolist() == [3], "without exact surfaces, the patch"


def test_rules_by_element_storey_and_material():
    surface = Surface(read_model("house.ifc", cad.ifc(), Upload({})).mesh)
    mesh = surface.mesh
    count = lambda pick: len(np.unique(mesh.face_part[picks.resolve(pick, surface)]))  # noqa: E731
    assert count(picks.Elements(("Wall",))) == 2 and count(picks.Elements(("S*",))) == 2
    assert count(picks.Storeys(("Upper",))) == 2
    assert count(picks.Sources(("Brick",))) == 1
    both = picks.shared(picks.Elements(("Wall",)), picks.Storeys(("Upper",)))
    assert count(both) == 1
    assert not picks.resolve(picks.Elements(("*",)), Surface(cuboid())).any(), "a model that states nothing"
    assert not picks.resolve(picks.Sources(("*",)), Surface(cuboid())).any()


def test_keeping_and_shrinking():
    surface = Surface(column(16, 500, 2000, rows=5))
    assert picks.shared(picks.Faces((1, 2, 3)), picks.Faces((3, 4))) == picks.Faces((3,))
    assert picks.shared(picks.Patches((1,)), picks.Patches((2,))) == picks.NOTHING
    assert picks.shared(picks.All(), picks.Parts(("x",))) == picks.Parts(("x",))
    grown = picks.grown(surface.held(np.array([40], np.int32)), surface)
    assert picks.shrunk(grown, surface).sum() == 1


@pytest.mark.parametrize(
    ("pick", "words"),
    [
        ({"elements": ["Wall"]}, "every element of type “Wall”"),
        ({"storeys": ["Ground"]}, "storey “Ground”"),
        ({"facing": [0, 0, 1], "within_deg": 20}, "faces looking up within 20°"),
        ({"every": [{"parts": ["Wall*"]}, {"facing": [0, -2, 0], "within_deg": 5}]}, "faces of part “Wall*” looking to the front within 5°"),
        ({"every": [{"parts": ["Wall*"]}, {"not": {"faces": [1, 2, 3]}}]}, "part “Wall*” without 3 faces"),
        ({"parts": ["A", "B", "C"]}, "parts “A”, “B”, “C”"),
        ({"parts": ["A", "B", "C", "D"]}, "4 parts: “A”, “B” and 2 more"),
        ({"facing": [1, 1, 0], "within_deg": 5}, "faces looking towards (1, 1, 0) within 5°"),
        ({"every": [{"all": True}, {"parts": ["A"]}]}, "everything that are also part “A”"),
    ],
)  # fmt: skip
def test_rules_in_words(pick, words):
    body = {"name": "x", "material": "m", "pick": pick, "projection": {"kind": "planar"}}
    assert pick_phrase(FinishModel.model_validate(body).pick) == words


def test_a_quad_with_a_split_edge_and_a_concave_polygon_are_each_one_face():
    text = b"v 0 0 0\nv 2 0 0\nv 4 0 0\nv 4 3 0\nv 0 3 0\nf 1 2 3 4 5\nv 10 0 0\nv 14 0 0\nv 14 3 0\nv 12 1 0\nv 10 3 0\nf 6 7 8 9 10\n"
    surface = Surface(read_model("a.obj", text, Upload({}), "m", "z").mesh)
    assert surface.mesh.face_count == 2 and len(surface.triangles) == 6
    np.testing.assert_allclose(surface.face_areas, [12e6, 8e6])
    assert picks.resolve(picks.Faces((0,)), surface).tolist() == [True, False]


def test_the_vault_of_96_strips_is_one_patch():
    surface = Surface(lido.build())
    vault = surface.mesh.face_part == surface.mesh.part_names.index("Vault outside")
    assert len(np.unique(surface.patches()[vault])) == 1
