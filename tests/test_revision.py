"""The lido's next revision, and small models where it is plain what became of each face."""

import shutil
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from pivrel.core import picks
from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, cover
from pivrel.core.revision import carried, match
from pivrel.demo import lido
from pivrel.project.computing import Computing
from pivrel.project.edits.accept import Accept
from pivrel.project.edits.base import Before
from pivrel.project.laid import LaidProject
from pivrel.project.revision import listed, read_list, revised
from pivrel.recipe import FinishModel, changed, pick_model
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import Contents, Document, MaterialBody
from tests.shapes import cuboid, mesh_of


@pytest.fixture(scope="module")
def demo(tmp_path_factory, filled):
    """The lido's finishes and surface as the demo has them."""
    database = Database(shutil.copytree(filled, tmp_path_factory.mktemp("demo") / "data"))
    with database.reading() as db:
        project = next(p for p in projects.get_all(db) if p.demo == "lido")
        return projects.contents(db, project.id), Surface(blobs.get_mesh(db, project.mesh))


def by_faces(contents, surface):
    """The same finishes, each with the faces themselves in place of a rule."""
    out = contents.copied()
    for key, document in contents.finishes.items():
        mask = picks.resolve(document.body.core_pick, surface)
        body = changed(document.body, pick={"faces": np.flatnonzero(mask).tolist()})
        out.finishes[key] = replace(document, body=body)
    return out


def by_patches(contents, surface):
    out = contents.copied()
    for key, document in contents.finishes.items():
        mask = picks.resolve(document.body.core_pick, surface)
        body = changed(document.body, pick={"patches": np.unique(surface.patches()[mask]).tolist()})
        out.finishes[key] = replace(document, body=body)
    return out


def face_finish(contents, surface):
    return cover(surface, [d.body.core_pick for d in contents.finishes.values()])


def wanted(surface, by_patch):
    """What each face of the second revision should have, by its part: the demo's finishes as people mean them.

    by_patch: they hold whole patches, also where a rule holds less.
    """
    names = np.array(surface.mesh.part_names)
    rows = np.full(len(names), BARE)
    rows[
        np.isin(names, ["Deck", "Floor", "Pool floor"])
        | np.char.startswith(names, "Step ")
        | np.char.startswith(names, "Pool wall ")
    ] = 0
    rows[np.isin(names, ["Wall south", "Wall west", "Wall north"])] = 1
    rows[np.char.startswith(names, "Vault edge") | (names == "Vault outside")] = 2
    rows[np.char.startswith(names, "Screen A ")] = 3
    rows[names == "Bar top"] = 4
    rows[names == "Foreshore"] = 5
    rows[names == "Water"] = 6
    rows[np.char.startswith(names, "Column ")] = 7
    rows[names == "Vault soffit"] = 8
    rows[np.char.startswith(names, "Gable ")] = 9
    for begins in ("Counter body", "Bench", "Sill ", "Wall plate "):
        rows[np.char.startswith(names, begins)] = 10
    rows[names == "Handrail"] = 11
    out = rows[surface.mesh.face_part]
    boulder = surface.mesh.face_part == np.flatnonzero(names == "Boulder 1")[0]
    out[boulder & (by_patch | picks.resolve(picks.Facing((0, 0, 1), 75), surface))] = 12
    return out


def areas(found, surface, old_surface):
    """m² covered before that keep their finish without a question, of all that were covered before."""
    covered_before = sum(i.area_m2 for i in found.items if i.was)
    return found.area_m2("kept", "moved") / covered_before


@pytest.mark.parametrize("stated", [lambda c, s: c, by_faces, by_patches])
def test_the_lidos_next_revision(demo, stated):
    contents, old = demo
    contents = stated(contents, old)
    new = Surface(lido.build(2))
    found = revised(contents, old, new)
    assert areas(found, new, old) >= 0.95
    now, right = face_finish(found.contents, new), wanted(new, stated is by_patches)
    assert not ((now != BARE) & (now != right)).any(), "no face is covered wrongly"
    # Rules take what is new; picks by hand leave new parts bare, and say so.
    new_parts = {i.part for i in found.items if i.what == "new"}
    assert {f"Screen A board {n}" for n in range(16, 22)} <= new_parts
    left_bare = new.face_areas[(now == BARE) & (right != BARE)].sum() / 1e6
    told = sum(i.area_m2 for i in found.items if i.what in ("new", "doubtful") and i.finish is None)
    assert left_bare <= told + 1e-9, "whatever is not covered is in the list"
    if stated not in (by_faces, by_patches):
        assert left_bare == 0
    moved = [i for i in found.items if i.what == "moved"]
    assert {i.part for i in moved} == {"Wall north"}
    assert [(i.former, i.part) for i in found.items if i.former] == [("Counter top", "Bar top")]


def test_it_is_the_same_every_time_and_the_list_is_kept(demo):
    contents, old = demo
    new = Surface(lido.build(2))
    a, b = (revised(contents, old, new) for _ in range(2))
    assert listed(a.items) == listed(b.items)
    assert listed(read_list(listed(a.items))) == listed(a.items)


def test_nothing_changes_with_the_same_model(demo):
    contents, old = demo
    found = revised(contents, old, Surface(lido.build()))
    assert {i.what for i in found.items} == {"kept"}
    assert found.contents.finishes == contents.finishes


def box(name, size, at):
    mesh = cuboid(*size)
    return replace(mesh, points=mesh.points + np.array(at, float), part_names=(name,))


def finish(pick, key="F1", datum=None):
    body = {
        "name": key,
        "material": "brick",
        "pick": pick_model(pick),
        "projection": {"kind": "box", "corners": "separate", "size_mm": None},
    }
    return Document(key, 1, FinishModel.model_validate({**body, "datum": datum} if datum else body))


def test_a_moved_part_takes_its_finish_and_datum_along():
    old = Surface(merged([box("A", (900, 500, 300), (0, 0, 0)), box("B", (100, 100, 100), (5000, 0, 0))]))
    new = Surface(merged([box("A", (900, 500, 300), (250, 40, 0)), box("B", (100, 100, 100), (5000, 0, 0))]))
    datum = {"origin_mm": [10.0, 20.0, 30.0], "x_axis": [1.0, 0, 0], "z_axis": [0, 0, 1.0]}
    contents = Contents({"F1": finish(picks.Faces(tuple(range(6))), datum=datum)})
    found = revised(contents, old, new)
    body = found.contents.finishes["F1"].fields
    assert body["pick"] == {"faces": [0, 1, 2, 3, 4, 5]}
    np.testing.assert_allclose(body["datum"]["origin_mm"], [260, 60, 30])
    assert [(i.what, i.part) for i in found.items] == [("kept", "B"), ("moved", "A")]


def test_a_part_that_grew_keeps_the_faces_that_are_plain_and_asks_for_the_rest():
    old = Surface(box("A", (1000, 500, 300), (0, 0, 0)))
    new = Surface(box("A", (1400, 500, 300), (0, 0, 0)))
    matched = match(old, new)
    normals = new.normals / np.linalg.norm(new.normals, axis=1, keepdims=True)
    end = np.flatnonzero(normals[:, 0] > 0.9)
    assert (matched.face == np.arange(6)).all()
    assert matched.doubtful.sum() == 1 and matched.doubtful[end].all()
    brick = MaterialBody(name="brick", repeat_mm=(900, 600), grain_deg=0, metallic=0, images={})
    rows = {"F1": finish(picks.Faces(tuple(range(6))))}
    found = revised(Contents(rows, {"brick": Document("brick", 0, brick)}), old, new)
    doubtful = [i for i in found.items if i.what == "doubtful"]
    assert [(i.was, i.finish, i.faces.tolist()) for i in doubtful] == [("F1", None, end.tolist())]
    laid = LaidProject("mesh", new, found.contents, Computing())
    accept = Accept(kind="accept", finish="F1", faces=doubtful[0].faces.tolist())
    no_project: Any = None
    done = accept.done(Before(no_project, laid, dict, dict))
    assert (face_finish(done.contents, new) == 0).all() and done.label == "lay F1 on 1 more face"


def test_a_part_that_is_gone_is_listed_with_its_finish():
    old = Surface(merged([box("A", (900, 500, 300), (0, 0, 0)), box("B", (100, 100, 100), (5000, 0, 0))]))
    found = revised(
        Contents({"F1": finish(picks.Parts(("B",)))}), old, Surface(box("A", (900, 500, 300), (0, 0, 0)))
    )
    assert [(i.what, i.part, i.was, len(i.faces)) for i in found.items] == [
        ("kept", "A", None, 6),
        ("gone", "B", "F1", 6),
    ]


def test_a_renamed_part_of_one_face_is_known_by_its_place():
    """Whichever number its face has, the very first too."""
    points = [(0, 0, 2000), (700, 0, 2000), (700, 400, 2000), (0, 400, 2000)]
    sign = lambda name: mesh_of(points, [(0, 1, 2, 3)], (name,))  # noqa: E731
    block = box("B", (100, 100, 100), (5000, 0, 0))
    found = match(Surface(merged([sign("Sign"), block])), Surface(merged([sign("Board"), block])))
    assert found.part.tolist() == [0, 1]


def test_what_is_gone_of_faces_that_were_cut_back_is_told_in_square_metres():
    """A block of 900 by 500 by 300 mm ends 500 mm sooner: that much of four sides is gone, found by sampling them."""
    old = Surface(merged([box("A", (900, 500, 300), (0, 0, 0)), box("B", (100, 100, 100), (5000, 0, 0))]))
    found = revised(Contents({"F1": finish(picks.All())}), old, Surface(box("A", (400, 500, 300), (0, 0, 0))))
    gone = {item.part: item for item in found.items if item.what == "gone"}
    assert gone["A"].area_m2 == pytest.approx(2 * 0.5 * (0.5 + 0.3), rel=0.12)
    assert gone["B"].area_m2 == pytest.approx(6 * 0.1 * 0.1)


def test_a_rule_follows_a_renamed_part_and_every_kind_of_pick_is_carried():
    old = Surface(
        merged([box("Wall [1]", (900, 500, 300), (0, 0, 0)), box("B", (100, 100, 100), (5000, 0, 0))])
    )
    new = Surface(
        merged([box("B", (100, 100, 100), (5000, 0, 0)), box("Wall *", (900, 500, 300), (0, 0, 0))])
    )
    matched = match(old, new)
    rule = picks.Every((picks.Parts(("Wall *",)), picks.Not(picks.Faces((0, 6)))))
    got = carried(rule, old, new, matched)
    mask = picks.resolve(got, new)
    assert mask.tolist() == [False] * 7 + [True] * 5
    either = carried(picks.AnyOf((picks.Patches((0, 6)), picks.Facing((0, 0, 1), 5))), old, new, matched)
    assert isinstance(either, picks.AnyOf) and either.picks[0] == picks.Patches((0, 6)), (
        "each patch by its own faces"
    )


def test_new_faces_beside_covered_ones_of_a_patch_take_their_finish():
    strip = lambda n: grid(n)  # noqa: E731
    old, new = Surface(strip(4)), Surface(strip(6))
    found = revised(Contents({"F1": finish(picks.Faces((0, 1, 2, 3)))}), old, new)
    assert found.contents.finishes["F1"].fields["pick"] == {"faces": [0, 1, 2, 3, 4, 5]}


def grid(count):
    """A row of squares that bend a little, so that no two lie in one plane."""
    from pivrel.core.geometry.mesh import Mesh

    angle = np.radians(8.0) * np.arange(count + 1)
    points = [(1000 * np.sin(a), y, 1000 * np.cos(a)) for a in angle for y in (0.0, 140.0)]
    corners = [[2 * i, 2 * i + 1, 2 * i + 3, 2 * i + 2][::-1] for i in range(count)]
    return Mesh(
        points=np.array(points), corners=np.array(corners, np.int32).reshape(-1),
        face_start=np.arange(0, 4 * count + 1, 4, dtype=np.int32), face_part=np.zeros(count, np.int32), part_names=("Roof",),
    )  # fmt: skip


def test_faces_that_lie_otherwise_are_carried_over_too():
    old = Surface(box("A", (900, 700, 500), (0, 0, 0)))
    new = Surface(merged([box("New", (300, 200, 100), (5000, 0, 0)), box("A", (900, 700, 500), (0, 0, 0))]))
    document = finish(picks.All())
    adjust = [{"pick": {"patches": [2]}, "turn_deg": 90}]
    contents = Contents({"F1": replace(document, body=changed(document.body, adjust=adjust))})
    body = revised(contents, old, new).contents.finishes["F1"].body
    assert body.adjust[0].turn_deg == 90
    pick = body.adjust[0].pick.to_core()
    (face,) = np.flatnonzero(picks.resolve(pick, new))
    (was,) = np.flatnonzero(old.patches() == 2)
    assert new.centroids[face] == pytest.approx(old.centroids[was])


def plate(step):
    """A plate of 2 x 40 x 40 even triangles, `step` mm along each side."""
    u, v = (g.reshape(-1) * step for g in np.meshgrid(np.arange(41), np.arange(41), indexing="ij"))
    i = np.arange(1600)
    a = (i // 40) * 41 + i % 40
    faces = np.stack([a, a + 41, a + 42, a, a + 42, a + 1], axis=1).reshape(-1, 3)
    return mesh_of(np.column_stack([u, v, 0 * u]), faces)


@pytest.mark.parametrize("shift", [(1500, 0, 0), (100, 200, 0), (-50, 25, 0), (0, 0, 50), (1500, 0, 30)])
def test_what_is_cut_evenly_and_moved_is_matched_face_by_face(shift):
    """Most of its faces come to lie where others were, and are not those."""
    old = plate(50.0)
    found = match(Surface(old), Surface(replace(old, points=old.points + shift)))
    assert found.face.tolist() == list(range(old.face_count)) and found.sure.all() and found.moved.all()
    np.testing.assert_allclose(found.shift_mm, [shift], atol=1e-6)


def test_many_parts_that_moved_each_its_own_way_renamed_or_not():
    boards = [
        replace(cuboid(900 + k, 60, 20), points=cuboid(900 + k, 60, 20).points + (0, 100.0 * k, 0))
        for k in range(300)
    ]
    old = replace(merged(boards), part_names=tuple(f"board {k}" for k in range(300)))
    moves = np.column_stack([np.full(300, 40.0), np.zeros(300), np.arange(300) % 7 * 10.0 + 5])
    each = moves[np.repeat(np.arange(300), 8)]
    names = tuple(f"board {k}" if k % 3 else f"plank {k}" for k in range(300))
    found = match(Surface(old), Surface(replace(old, points=old.points + each, part_names=names)))
    assert found.face.tolist() == list(range(old.face_count)) and found.sure.all()
    np.testing.assert_allclose(found.shift_mm, moves, atol=1e-6)


def test_faces_on_each_other_and_faces_without_size():
    one = plate(50.0)
    heap = replace(
        one,
        corners=np.concatenate([one.corners, np.tile(one.corners[:3], 5000), np.zeros(15_000, np.int32)]),
        face_start=np.arange(0, 3 * (one.face_count + 10_000) + 1, 3, dtype=np.int32),
        face_part=np.zeros(one.face_count + 10_000, np.int32),
    )
    found = match(Surface(heap), Surface(heap))
    assert found.face[: one.face_count].tolist() == list(range(one.face_count))
    assert set(found.face[one.face_count : one.face_count + 5000].tolist()) <= {
        0,
        *range(one.face_count, one.face_count + 5000),
    }


def test_a_part_that_had_no_faces_before_has_some_now():
    one, other = cuboid(), replace(cuboid(), points=cuboid().points + (5000.0, 0, 0))
    old = replace(one, part_names=("a", "b"))
    new = replace(merged([one, other]), part_names=("a", "b"))
    found = match(Surface(old), Surface(new))
    assert found.face.tolist() == [*range(6), *[-1] * 6]
