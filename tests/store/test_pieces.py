"""Long bytes are written and deleted in pieces: others come in between, and nothing is ever seen half."""

import os
import sqlite3
import threading
from contextlib import closing

import pytest

from pivrel.store import blobs, projects
from pivrel.store.blobs import PIECE, Blob
from pivrel.store.database import FILE, Database
from pivrel.store.errors import LostBytesError
from tests.conftest import facts_of

LENGTHS = [0, 1, PIECE, PIECE + 1, 5 * PIECE + 7]


@pytest.fixture()
def data(tmp_path):
    database = Database(tmp_path)
    yield database
    database.close()


def pieces(database):
    with database.reading() as db:
        return db.execute("SELECT count(*) FROM piece").fetchone()[0]


def kept(database, blob, ahead=()):
    """A project whose model is these bytes: what refers to them keeps them."""
    with database.transaction(ahead) as db:
        return projects.create(db, "model", blobs.put(db, blob), facts_of("a.obj", triangles=1))


@pytest.mark.parametrize("ahead", [True, False])
def test_bytes_of_every_length_come_back_as_they_were_and_go_whole(data, ahead):
    every = [Blob.of(os.urandom(length)) for length in LENGTHS]
    made = [kept(data, blob, [blob] if ahead else []) for blob in every]
    assert pieces(data) == 1 + 5
    with data.reading() as db:
        for blob in every:
            assert blobs.get(db, blob.sha256) == blob.data
    full = data.bytes_on_disk
    for project in made:
        with data.transaction() as db:
            db.execute("DELETE FROM project WHERE id = ?", (project,))
    assert pieces(data) == 0
    data.compact()
    assert data.bytes_on_disk < full - 5 * PIECE


def test_what_fails_after_its_bytes_were_written_leaves_none_of_them(data):
    blob = Blob.of(os.urandom(3 * PIECE))
    with pytest.raises(ZeroDivisionError), data.transaction([blob]) as db:
        assert db.execute("SELECT count(*) FROM piece").fetchone()[0] == 2
        assert blobs.find(db, blob.sha256) is None
        blobs.put(db, blob)
        raise ZeroDivisionError
    assert pieces(data) == 0
    # Where somebody else has kept the same bytes meanwhile, they are his.
    kept(data, blob)
    with pytest.raises(ZeroDivisionError), data.transaction([blob]):
        raise ZeroDivisionError
    with data.reading() as db:
        assert blobs.get(db, blob.sha256) == blob.data


def test_bytes_whose_pieces_were_deleted_meanwhile_are_whole_all_the_same(data):
    blob = Blob.of(os.urandom(3 * PIECE))
    with data.transaction([blob]) as db:
        blobs.delete_piece(db, blob.sha256)
        projects.create(db, "model", blobs.put(db, blob), facts_of("a.obj", triangles=1))
    with data.reading() as db:
        assert blobs.get(db, blob.sha256) == blob.data


def test_a_writer_comes_in_between_the_pieces_of_another(data):
    blob, small = Blob.of(os.urandom(60 * PIECE)), Blob.of(b"small")
    long = threading.Thread(target=kept, args=(data, blob, [blob]))
    long.start()
    between = 0
    while long.is_alive():
        kept(data, small)
        between += 1
    # With one long transaction it would be one or two.
    assert between > 10
    with data.reading() as db:
        assert blobs.get(db, blob.sha256) == blob.data


def test_pieces_of_a_write_that_was_cut_off_go_with_the_next_start(data, tmp_path):
    whole, cut = Blob.of(os.urandom(2 * PIECE)), Blob.of(os.urandom(3 * PIECE))
    kept(data, whole)
    with data.transaction() as db:
        blobs.put_piece(db, cut, 2)
    assert data.sweep() == 1 and pieces(data) == 1
    assert data.sweep() == 0
    with data.reading() as db:
        assert blobs.get(db, whole.sha256) == whole.data


def test_a_piece_that_is_lost_or_changed_is_told(data, tmp_path):
    blob = Blob.of(os.urandom(3 * PIECE))
    kept(data, blob)
    for harm in ("UPDATE piece SET data = x'00' WHERE number = 1", "DELETE FROM piece WHERE number = 2"):
        with closing(sqlite3.connect(tmp_path / FILE)) as raw, raw:
            raw.execute(harm)
        with data.reading() as db, pytest.raises(LostBytesError, match="were changed"):
            blobs.get(db, blob.sha256)


def test_bytes_that_an_earlier_version_kept_in_one_are_read_and_deleted(data):
    blob = Blob.of(os.urandom(3 * PIECE))
    with data.transaction() as db:
        db.execute("INSERT INTO blob (sha256, data) VALUES (?, ?)", (blob.sha256, blob.data))
        project = projects.create(db, "model", blob.sha256, facts_of("a.obj", triangles=1))
    assert kept(data, blob, [blob]) != project and pieces(data) == 0
    with data.reading() as db:
        assert blobs.get(db, blob.sha256) == blob.data
    with data.transaction() as db:
        db.execute("DELETE FROM project")
    with data.reading() as db:
        assert blobs.find(db, blob.sha256) is None
