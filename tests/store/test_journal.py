"""The store: edits, undo and redo across restarts, the revision check, all or nothing."""

import shutil
import sqlite3

import pytest

from pivrel.recipe import FinishModel, changed
from pivrel.store import blobs, journal, projects
from pivrel.store.database import Database
from pivrel.store.documents import Change, Contents, Document, LibraryBody, ViewBody
from pivrel.store.library import fill_library
from tests.conftest import facts_of, small_images
from tests.shapes import cuboid


@pytest.fixture
def database(tmp_path):
    return Database(tmp_path)


@pytest.fixture
def project(database):
    with database.transaction() as db:
        return projects.create(db, "cube", blobs.put_mesh(db, cuboid()), facts_of("cube.obj"))


def finish(key, position, **body):
    stated = {"name": key, "material": "brick", "pick": {"all": True}, "projection": {"kind": "box"}, **body}
    return Document(key, position, FinishModel.model_validate(stated))


def write(database, project, revision, label, after):
    with database.transaction() as db:
        before = projects.contents(db, project)
        journal.write(db, project, revision, label, journal.changes_between(before, after))


def finishes(database, project):
    with database.reading() as db:
        return projects.contents(db, project).finishes


def as_stored(database, project):
    """The contents as whoever opens the database next reads them."""
    with Database(database.path.parent).reading() as db:
        return projects.contents(db, project)


def in_order(contents):
    return {kind: list(contents.of(kind).items()) for kind in ("finish", "material", "pick_set", "view")}


def test_contents_are_carried_on_with_what_is_written(database, project):
    """What a project consists of is not read again after a write, and yet it is what a reader finds."""
    first, second, third = finish("F1", 1), finish("F2", 2), finish("F3", 3)
    steps = [
        Contents({"F1": first, "F2": second, "F3": third}),
        Contents({"F1": first, "F2": finish("F2", 2, turn_deg=9), "F3": third}),
        Contents({"F3": finish("F3", 0), "F1": first}),
        Contents({"F9": finish("F9", 1), "F1": finish("F1", 7)}),
    ]

    def check():
        with database.reading() as db:
            held = projects.contents(db, project)
            assert projects.contents(db, project) is held
        assert in_order(held) == in_order(as_stored(database, project))
        return held

    check()
    for revision, after in enumerate(steps):
        write(database, project, revision, "step", after)
        check()
    for revision, step in enumerate((journal.undo, journal.undo, journal.redo, journal.undo), len(steps)):
        with database.transaction() as db:
            step(db, project, revision)
        check()
    before = check()
    with pytest.raises(RuntimeError), database.transaction() as db:
        journal.write(db, project, 8, "lost", journal.changes_between(before, steps[0]))
        assert in_order(projects.contents(db, project)) == in_order(steps[0])
        raise RuntimeError("cut off")
    assert check() is before
    # The same number again, with something else in it.
    write(database, project, 8, "kept", steps[3])
    assert in_order(check()) == in_order(as_stored(database, project)) != in_order(steps[0])


def test_undo_and_redo_survive_a_restart(database, project, tmp_path):
    one, two = finish("F1", 1, turn_deg=0), finish("F1", 1, turn_deg=90)
    write(database, project, 0, "lay", Contents({"F1": one}))
    write(database, project, 1, "turn", Contents({"F1": two, "F2": finish("F2", 2)}))
    again = Database(tmp_path)
    with again.transaction() as db:
        assert journal.undo(db, project, 2) == "turn"
    assert finishes(again, project) == {"F1": one}
    with Database(tmp_path).transaction() as db:
        assert journal.neighbours(db, project, 1) == ("lay", "turn")
        assert journal.redo(db, project, 3) == "turn"
    assert finishes(database, project) == {"F1": two, "F2": finish("F2", 2)}
    with database.transaction() as db:
        journal.undo(db, project, 4)
        journal.undo(db, project, 5)
        with pytest.raises(journal.NothingToDoError):
            journal.undo(db, project, 6)
    assert finishes(database, project) == {}


def test_an_edit_that_changes_something_twice_is_undone_in_the_other_order(database, project):
    """Undo goes from the last change of an edit to its first, redo from the first to the last."""
    first, second, third = (finish("F1", 1, turn_deg=turn) for turn in (0, 30, 60))
    write(database, project, 0, "lay", Contents({"F1": first}))
    twice = [Change("finish", "F1", first, second), Change("finish", "F1", second, third)]
    with database.transaction() as db:
        journal.write(db, project, 1, "twice", twice)
    for revision, step, there in (
        (2, journal.undo, first),
        (3, journal.redo, third),
        (4, journal.undo, first),
    ):
        with database.transaction() as db:
            step(db, project, revision)
        assert finishes(database, project) == as_stored(database, project).finishes == {"F1": there}


def test_what_is_taken_back_gets_the_next_free_key(database, project):
    """A view comes back under its own key, and beside one that has taken it meanwhile under the first free one after it."""

    def view(key):
        body = {
            "name": f"View {key}",
            "position_mm": (0, 0, 0),
            "target_mm": (1, 0, 0),
            "up": (0, 0, 1),
            "height_mm": None,
        }
        return Document(key, 1, ViewBody.model_validate(body))

    def keep(*changes):
        with database.transaction() as db:
            journal.keep_aside(db, project, list(changes))

    def views():
        with database.reading() as db:
            return list(projects.contents(db, project).views)

    keep(Change("view", "V1", None, view("V1")))
    keep(Change("view", "V1", view("V1"), None))
    with database.transaction() as db:
        assert journal.take_back(db, project, "view", "V1") == "View V1"
    assert views() == ["V1"]

    keep(Change("view", "V4", None, view("V4")))
    for there in (["V1", "V2", "V4"], ["V1", "V2", "V3", "V4"], ["V1", "V2", "V3", "V4", "V5"]):
        keep(Change("view", "V1", view("V1"), None), Change("view", "V1", None, view("V1")))
        with database.transaction() as db:
            journal.take_back(db, project, "view", "V1")
        assert sorted(views()) == there
    with database.transaction() as db, pytest.raises(journal.NothingToDoError):
        journal.take_back(db, project, "view", "V1")


def test_a_new_edit_drops_what_was_undone(database, project):
    write(database, project, 0, "one", Contents({"F1": finish("F1", 1)}))
    with database.transaction() as db:
        journal.undo(db, project, 1)
    write(database, project, 2, "two", Contents({"F2": finish("F2", 1)}))
    with database.transaction() as db, pytest.raises(journal.NothingToDoError):
        journal.redo(db, project, 3)
    assert list(finishes(database, project)) == ["F2"]


def test_an_outdated_write_is_refused_with_what_changed(database, project):
    write(database, project, 0, "lay brick", Contents({"F1": finish("F1", 1)}))
    with pytest.raises(journal.OutdatedError) as error:
        write(database, project, 0, "late", Contents())
    assert (error.value.revision, error.value.since) == (1, ["lay brick"])
    assert list(finishes(database, project)) == ["F1"]


def test_all_of_a_transaction_or_nothing(database, project):
    with pytest.raises(RuntimeError), database.transaction() as db:
        journal.write(
            db, project, 0, "half", journal.changes_between(Contents(), Contents({"F1": finish("F1", 1)}))
        )
        raise RuntimeError
    assert finishes(database, project) == {}
    with database.reading() as db:
        kept = projects.get(db, project)
    assert kept is not None and kept.revision == 0


def test_meshes_come_back_as_they_were_and_leave_with_their_last_project(database, project):
    with database.transaction() as db:
        mesh = blobs.get_mesh(db, projects.get(db, project).mesh)
        for name in ("points", "corners", "face_start", "face_part"):
            assert (getattr(mesh, name) == getattr(cuboid(), name)).all()
        assert (mesh.part_names, mesh.normals, mesh.sources) == (("part",), None, ())
        sha = projects.get(db, project).mesh
        other = projects.create(db, "copy", blobs.put_mesh(db, cuboid()), facts_of("x"))
    with database.transaction() as db:
        projects.delete(db, project)
    with database.transaction() as db:
        assert blobs.get(db, sha)
        projects.delete(db, other)
    with database.reading() as db:
        assert blobs.find(db, sha) is None


def test_migrations_run_once_and_foreign_keys_hold(database, tmp_path):
    Database(tmp_path)
    with database.reading() as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == 7
        assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    with pytest.raises(sqlite3.IntegrityError), database.transaction() as db:
        projects.create(db, "no mesh", "gone", facts_of("x"))


def test_a_built_in_material_that_other_code_made_is_made_anew(tmp_path, filled, monkeypatch):
    """One of an earlier version, that knows no joints, and one made by other code."""
    database = Database(shutil.copytree(filled, tmp_path / "data"))
    small_images(monkeypatch)
    assert list(fill_library(database)) == []
    with database.transaction() as db:
        body = dict(projects.library(db)["brick"].fields)
        for key in ("joints", "half_turns", "tags", "made_from"):
            del body[key]
        projects.put_library(db, "brick", 0, LibraryBody.model_validate(body))
        other = changed(projects.library(db)["checker"].body, made_from="other", images={})
        projects.put_library(db, "checker", 10, other)
    assert list(fill_library(database)) == [
        f"material: {body['name']}, made anew",
        "material: Checker, 100 mm, made anew",
    ]
    with database.reading() as db:
        now = projects.library(db)["brick"].body
        assert projects.library(db)["checker"].body.images
    assert now.joints.unit_mm == (225.0, 75.0) and now.images == body["images"]
