"""What is kept is kept with what it was made from: other code makes it anew."""

import pytest

from pivrel.store import made_from, pictures
from pivrel.store.made_from import code_of


@pytest.fixture
def package(tmp_path, monkeypatch):
    """A package of two modules, and a way to ask what code it is, as a new process would."""
    folder = tmp_path / "madeup"
    folder.mkdir()
    (folder / "__init__.py").write_text("")
    (folder / "one.py").write_text("A = 1\n")
    monkeypatch.syspath_prepend(tmp_path)

    def asked():
        code_of.cache_clear()
        return code_of(("madeup",))

    yield folder, asked
    code_of.cache_clear()


def test_any_change_of_any_module_counts(package):
    folder, asked = package
    first = asked()
    assert asked() == first
    (folder / "one.py").write_text("A = 2\n")
    second = asked()
    (folder / "two.py").write_text("")
    third = asked()
    (folder / "two.py").rename(folder / "three.py")
    fourth = asked()
    assert len({first, second, third, fourth}) == 4
    (folder / "three.py").unlink()
    (folder / "one.py").write_text("A = 1\n")
    assert asked() == first


def test_a_picture_is_of_its_revision_and_of_the_code_that_drew_it(cube, database, monkeypatch):
    with database.transaction() as db:
        pictures.put(db, 1, 0, b"old")
    with database.reading() as db:
        assert pictures.get(db, 1, 0) == b"old" and pictures.get(db, 1, 1) is None
    assert cube.client.get(f"{cube.path}/picture.jpg").data == b"old"
    monkeypatch.setattr(pictures, "code_of", lambda packages: "other code")
    with database.reading() as db:
        assert pictures.get(db, 1, 0) is None
    drawn = cube.client.get(f"{cube.path}/picture.jpg").data
    assert drawn.startswith(b"\xff\xd8") and drawn != b"old"
    with database.transaction() as db:
        pictures.put(db, 1, 0, drawn)
        assert db.execute("SELECT count(*) FROM project_picture").fetchone()[0] == 1
        assert pictures.get(db, 1, 0) == drawn


def test_what_draws_and_makes_is_named():
    assert code_of(made_from.PICTURES) != code_of(made_from.LIBRARY)
    assert set(made_from.LIBRARY) <= set(made_from.PICTURES)
