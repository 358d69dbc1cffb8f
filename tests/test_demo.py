"""The demo: made by our own code, large enough, wound outward, with work done and work left."""

import shutil

import numpy as np
import pytest

from pivrel.core.geometry.surface import Surface
from pivrel.demo import fill, handle, lido, radio, seat
from pivrel.store import projects
from pivrel.store.database import Database


def test_the_lido_has_what_it_should():
    mesh = lido.build()
    surface = Surface(mesh)
    assert len(mesh.part_names) >= 40
    assert len(surface.triangles) >= 20_000
    assert np.diff(mesh.face_start).max() > 8, "n-gons are kept"
    patch_of = surface.patches()
    vault = mesh.face_part == mesh.part_names.index("Vault outside")
    assert vault.sum() == 96 * 16 and len(np.unique(patch_of[vault])) == 1
    boards = [n for n in mesh.part_names if n.startswith("Screen A board")]
    heights = {
        round(
            float(
                np.ptp(
                    mesh.points[
                        mesh.corners[
                            np.repeat(mesh.face_part == mesh.part_names.index(n), np.diff(mesh.face_start))
                        ],
                        2,
                    ]
                )
            )
        )
        for n in boards
    }
    assert len(boards) == 15 and len(heights) > 4, "some boards are scaled copies"


@pytest.mark.parametrize("model", [lido, radio, seat, handle])
def test_closed_parts_are_wound_outward(model):
    mesh = model.build()
    surface = Surface(mesh)
    topology = surface.topology
    ends = topology.corner_face[topology.pairs]
    same = mesh.face_part[ends[:, 0]] == mesh.face_part[ends[:, 1]]
    assert topology.opposed[same].all()
    corners = mesh.points[mesh.corners[surface.triangles]]
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2]))
    by_part = np.bincount(mesh.face_part[surface.triangle_face], weights=volume)
    opened = set(mesh.face_part[topology.corner_face[topology.open_edges]].tolist())
    # A part that another one closes is not closed by itself.
    opened |= set(mesh.face_part[ends[~same]].reshape(-1).tolist())
    for part, name in enumerate(mesh.part_names):
        if part not in opened and name != "Dial face":
            assert by_part[part] > 0, name


def test_the_seats_shell_is_closed_and_as_thick_as_stated():
    surface = Surface(seat.build())
    mesh = surface.mesh
    assert not len(surface.topology.open_edges)
    corners = mesh.points[mesh.corners[surface.triangles]]
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
    shell = mesh.face_part < 3
    area = surface.face_areas[mesh.face_part < 2].sum() / 2
    assert volume[shell[surface.triangle_face]].sum() == pytest.approx(seat.THICK * area, rel=0.01)


def test_filling_twice_adds_nothing(filled, tmp_path):
    database = Database(shutil.copytree(filled, tmp_path / "data"))
    assert list(fill(database)) == []
    with database.reading() as db:
        assert len(projects.library(db)) == 11
        demos = {p.demo: projects.contents(db, p.id) for p in projects.get_all(db)}
    assert len(demos) == 5 and len(demos["handle"].finishes) == 1 and len(demos["seat"].finishes) == 4
    assert len(demos["lido"].finishes) == 13 and len(demos["radio"].finishes) == 5
    assert len(demos["lido"].views) == 3
