"""Trouble with the data folder, each told in one sentence with nothing lost."""

import errno
import json
import re
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing
from datetime import UTC, datetime

import pytest

from pivrel.cli.main import main
from pivrel.recipe.picks import FacesPick
from pivrel.store import blobs, journal, projects
from pivrel.store import database as database_module
from pivrel.store.database import FILE, Database
from pivrel.store.documents import DOCUMENTS, ClipBody, LibraryBody, LightBody
from pivrel.store.errors import StorageError, told
from pivrel.store.migrating import NEWEST
from pivrel.web.app import create_app
from tests.conftest import Asking, facts_of
from tests.serving import Server, free_port
from tests.shapes import cuboid

MATERIAL = (
    '{"name": "m", "repeat_mm": [900, 600], "grain_deg": 0, "metallic": 0, "images": {"base_color": "%s"}}'
)
"""A material's document with one image."""


@pytest.fixture
def folder(tmp_path):
    database = Database(tmp_path / "data")
    with database.transaction() as db:
        projects.create(db, "cube", blobs.put_mesh(db, cuboid()), facts_of("cube.obj"))
    database.close()
    return tmp_path / "data"


def run(capsys, *args):
    code = main([str(a) for a in args])
    out, err = capsys.readouterr()
    return code, out, err


def test_a_newer_format_is_refused_and_left_alone(folder, capsys):
    with closing(sqlite3.connect(folder / FILE)) as db:
        db.execute(f"PRAGMA user_version = {NEWEST + 1}")
    before = (folder / FILE).read_bytes()
    with pytest.raises(StorageError, match="newer version of Pivrel"):
        Database(folder)
    code, _, err = run(capsys, "check", "--data", folder)
    assert code == 2 and "newer version" in err and err.count("\n") == 1
    assert (folder / FILE).read_bytes() == before


@pytest.mark.parametrize(
    "harm, word",
    [
        (lambda data: b"this is no database, but text " * 200, "not a database of Pivrel"),
        (lambda data: data[:5000], "damaged"),
        (lambda data: data[:8192] + b"\xff" * 4096 + data[12288:], "damaged"),
    ],
)
def test_a_destroyed_file(folder, capsys, harm, word):
    path = folder / FILE
    path.write_bytes(harm(path.read_bytes()))
    code, out, err = run(capsys, "check", "--data", folder)
    assert code == 2 and word in out + err
    assert "Traceback" not in err


def test_a_full_disk_changes_nothing_and_is_told(folder, monkeypatch):
    database = Database(folder)
    with database.reading() as db:
        pages = db.execute("PRAGMA page_count").fetchone()[0]
    with (
        pytest.raises(StorageError, match=f"no room left on the disk of {re.escape(str(database.path))}"),
        database.transaction() as db,
    ):
        db.execute(f"PRAGMA max_page_count = {pages + 1}")
        blobs.put_original(db, "x", bytes(200_000))
    with database.transaction() as db:
        db.execute("PRAGMA max_page_count = 100000000")
        projects.create(db, "again", blobs.put_mesh(db, cuboid(2.0)), facts_of("x"))


def test_somebody_else_writing_is_told_after_a_while(folder, monkeypatch, client, cube, database):
    monkeypatch.setattr(database_module, "WAIT_S", 0.2)
    database.close()
    with closing(sqlite3.connect(database.path, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        answer = client.patch(cube.path, json={"name": "new"})
        assert answer.status_code == 503 and "another program is writing" in answer.json["error"]
    assert client.patch(cube.path, json={"name": "new"}).status_code == 200


def test_a_read_only_folder_and_no_room_for_uploads(client, upload, monkeypatch):
    from pivrel.jobs import leftovers

    def full(*_):
        raise OSError(errno.ENOSPC, "No space left on device", "/tmp/x")

    monkeypatch.setattr(leftovers, "new_folder", full)
    answer = upload("/api/imports", {"a.obj": b"v 0 0 0\n"})
    assert answer.status_code == 507 and "no room left on the disk of /tmp/x" in answer.json["error"]
    for number, word in ((errno.EROFS, "read-only"), (errno.EACCES, "cannot be written")):
        assert word in str(told(OSError(number, "x"), "/data"))
    assert told(OSError(errno.ENOENT, "x"), "/data") is None


def test_a_copy_is_made_before_the_format_changes(folder):
    path = folder / FILE
    with closing(sqlite3.connect(path)) as db:
        # As version 3 left it, with a long pick and an image that two things name.
        for row in db.execute(
            "SELECT name, type FROM sqlite_master WHERE name LIKE '%_blob' OR name = 'blob_use'"
        ).fetchall():
            if row[0] != "project_blob":
                db.execute(f"DROP {row[1]} {row[0]}")
        db.execute("ALTER TABLE blob ADD COLUMN mime TEXT NOT NULL DEFAULT 'x'")
        db.execute("DROP INDEX project_blob_sha256")
        db.execute("DROP INDEX project_mesh")
        db.execute("DROP TABLE numbered")
        db.execute("DROP TABLE coat_set")
        db.execute("DROP TABLE piece")
        db.execute("ALTER TABLE project_picture DROP COLUMN drawn_by")
        ids = str(list(range(3000)))
        body = (
            f'{{"name": "x", "material": "m", "pick": {{"faces": {ids}}}, "projection": {{"kind": "box"}}}}'
        )
        db.execute("INSERT INTO document VALUES (1, 'finish', 'F1', 1, ?)", (body,))
        db.execute("INSERT INTO blob VALUES (?, ?, 'image/png')", ("ab" * 32, b"image"))
        db.execute(
            "INSERT INTO document VALUES (1, 'material', 'm', 1, ?)",
            (MATERIAL % ("ab" * 32),),
        )
        db.execute(
            "INSERT INTO document VALUES (1, 'material', 'lost', 2, ?)",
            (MATERIAL % ("cd" * 32),),
        )
        whole = f'[{{"kind": "finish", "key": "F1", "before": null, "after": {{"key": "F1", "position": 1, "body": {body}}}}}]'
        db.execute("INSERT INTO journal VALUES (1, 1, 'lay x', ?, '')", (whole,))
        db.execute("UPDATE project SET cursor = 1, revision = 1")
        db.execute("PRAGMA user_version = 3")
        db.commit()
    database = Database(folder)
    copy = folder / f"pivrel-before-{NEWEST}.sqlite"
    with closing(sqlite3.connect(copy)) as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == 3
    with database.transaction() as db:
        read = projects.contents(db, 1).finishes["F1"].body
        assert isinstance(read.pick, FacesPick) and isinstance(read.pick.faces, str)
        named = {row[0] for row in db.execute("SELECT sha256 FROM document_blob")}
        assert named == {"ab" * 32}
        assert journal.undo(db, 1, 1) == "lay x"
        assert projects.contents(db, 1).finishes == {}


def test_backup_check_compact_and_export(folder, capsys, tmp_path, filled):
    copy = tmp_path / "copy.sqlite"
    code, out, _ = run(capsys, "backup", "--data", folder, copy)
    assert code == 0 and "To go back to it" in out
    code, _, err = run(capsys, "backup", "--data", folder, copy)
    assert code == 2 and "is there already" in err
    for command in ("backup", "export"):
        code, _, err = run(capsys, command, "--data", folder, tmp_path / "none" / "x")
        assert (code, err) == (2, f"error: {tmp_path / 'none'}: there is no such folder\n")
    (tmp_path / "back").mkdir()
    copy.rename(tmp_path / "back" / FILE)
    assert run(capsys, "check", "--data", tmp_path / "back")[:2] == (
        0,
        "all data is whole: every row, every image, every model\n",
    )
    # What another has written and is still in the log counts as taken.
    served = Database(folder)
    with served.transaction() as db:
        db.execute("UPDATE blob SET data = zeroblob(8000000)")
    assert run(capsys, "compact", "--data", folder)[1] == "16 MB before, 8 MB now\n"
    served.close()
    code, out, _ = run(capsys, "export", "--data", filled, tmp_path / "all.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as file:
        names = file.namelist()
    assert (
        code == 0
        and sum(n.endswith(".pivrel") for n in names) >= 3
        and sum(n.startswith("materials/") for n in names) > 5
    )
    assert run(capsys, "check", "--data", tmp_path / "nothing")[0] == 2


def test_a_data_folder_that_is_a_file_is_one_line(capsys, tmp_path):
    (tmp_path / "data").write_text("no folder")
    code, _, err = run(capsys, "demo", "--data", tmp_path / "data")
    assert (code, err) == (2, f"error: {tmp_path / 'data'}: file exists\n")
    with pytest.raises(SystemExit, match=r"^error: .*/data: file exists$"):
        run(capsys, "serve", "--data", tmp_path / "data")


def test_check_names_what_is_lost(folder, capsys):
    with closing(sqlite3.connect(folder / FILE)) as db:
        db.execute(
            "INSERT INTO document VALUES (1, 'material', 'm', 1, ?)",
            ('{"images": {"base_color": "%s"}}' % ("cd" * 32),),
        )
        db.execute("UPDATE blob SET data = x'00'")
        db.commit()
    code, out, err = run(capsys, "check", "--data", folder)
    assert code == 2 and "bytes cdcdcdcdcdcd are missing; named by project 1: material m" in out
    assert "were changed; used by model of project 1" in out and "material m of project 1 is not right" in out
    assert "3 faults" in err or "4 faults" in err


def not_served(capsys, folder, *args):
    """Why a folder is not served: a text that the command ends with, or what it said of its arguments."""
    with pytest.raises(SystemExit) as refused:
        main(["serve", "--data", str(folder), *args])
    assert refused.value.code
    said = refused.value.code if isinstance(refused.value.code, str) else capsys.readouterr().err
    return said.strip().splitlines()[-1]


def test_a_second_server_bad_addresses_and_what_is_recovered(folder, capsys):
    server = Server(folder, free_port())
    assert "another Pivrel is serving" in not_served(capsys, folder, "--port", "0")
    taken = not_served(capsys, folder.parent / "other", "--port", str(server.port))
    assert f"port {server.port} is in use" in taken
    server.ask("PATCH", "/api/projects/1", {"name": "renamed"})
    server.kill()
    again = Server(folder, server.port)
    try:
        assert any("the last run was cut off" in line for line in again.said)
        assert again.ask("GET", "/api/projects/1")["name"] == "renamed"
    finally:
        again.kill()
    for args, word in (
        (("--host", "no.such.host.invalid"), "no address of this machine"),
        (("--port", "99999"), "between 0 and 65535"),
        (("--host", "203.0.113.1"), "no address of this machine"),
    ):
        assert word in not_served(capsys, folder.parent / word, *args)


def test_the_bytes_on_disk_are_those_of_the_file_once_nobody_has_it_open(folder):
    database = Database(folder)
    with database.transaction() as db:
        projects.create(db, "one", blobs.put_mesh(db, cuboid(2.0)), facts_of("x"))
    assert database.bytes_on_disk > database.path.stat().st_size, "what is written ahead counts too"
    database.close()
    assert database.bytes_on_disk == database.path.stat().st_size > 0


def test_materials_of_one_name_get_keys_and_names_that_count_from_two(folder):
    database = Database(folder)
    body = LibraryBody(name="My Oak!", repeat_mm=(600, 300), grain_deg=0, metallic=0, images={})
    with database.transaction() as db:
        added = [projects.add_own(db, body) for _ in range(3)]
    assert [(d.key, d.body.name) for d in added] == [
        ("my-oak", "My Oak!"), ("my-oak-2", "My Oak! 2"), ("my-oak-3", "My Oak! 3"),
    ]  # fmt: skip


def test_views_and_picks_are_kept_aside_of_undo_and_a_view_has_the_sun_unless_stated():
    assert [kind for kind, document in DOCUMENTS.items() if document.aside] == ["pick_set", "view"]
    assert LightBody(sun_deg=10, up_deg=40).overcast is False


def test_what_a_cut_hides_lies_on_the_side_that_it_looks_to():
    assert ClipBody(axis="y", at_mm=250).plane().tolist() == [0, 1, 0, 250]
    assert ClipBody(axis="z", at_mm=250, flipped=True).plane().tolist() == [0, 0, -1, -250]


@pytest.fixture
def small_disk(tmp_path):
    """Runs a module of the tests on a folder that is a disk of 96 MB by itself."""
    folder = tmp_path / "disk"
    folder.mkdir()
    probe = subprocess.run(
        ["unshare", "-rm", "mount", "-t", "tmpfs", "none", str(folder)], capture_output=True
    )
    if probe.returncode:
        pytest.skip("this machine lets nobody have a disk of his own")

    def run(module):
        command = f"mount -t tmpfs -o size=96m none '{folder}' && exec '{sys.executable}' -m {module} '{folder}/data'"
        done = subprocess.run(["unshare", "-rm", "sh", "-c", command], capture_output=True, text=True)
        assert done.returncode == 0, done.stderr[-3000:]
        return json.loads(done.stdout.splitlines()[-1])

    return run


def test_on_a_full_disk_deleting_makes_room(small_disk):
    found = small_disk("tests.store.full_disk")
    assert found["full"] < 1 << 20 and "no room left on the disk" in found["told"]
    assert found["deleted"] == 204 and found["freed"] > 15 << 20, found
    assert found["again"] == 200 and found["names"] == ["again"]


def test_an_empty_file_and_one_of_another_program_are_told_and_left_alone(tmp_path, capsys):
    for name, fill, word in (
        ("empty", lambda path: path.touch(), "is there, but empty"),
        (
            "foreign",
            lambda path: sqlite3.connect(path).executescript("CREATE TABLE mail (text)"),
            "of another program",
        ),
        (
            "numbered",
            lambda path: sqlite3.connect(path).executescript(
                "CREATE TABLE mail (text); PRAGMA user_version = 3"
            ),
            "of another program",
        ),
    ):
        folder = tmp_path / name
        folder.mkdir()
        fill(folder / FILE)
        before = (folder / FILE).read_bytes()
        for command in ("check", "backup", "demo", "serve"):
            arguments = [command, "--data", folder, *([tmp_path / "copy"] if command == "backup" else [])]
            code, out, err = run(capsys, *arguments)
            assert code == 2 and word in err and err.count("\n") == 1, (name, command, out, err)
        assert (folder / FILE).read_bytes() == before


def test_check_says_what_a_file_lacks(folder, capsys):
    with closing(sqlite3.connect(folder / FILE)) as db:
        db.executescript("DROP TABLE journal; DROP TABLE coat_set")
    code, _, err = run(capsys, "check", "--data", folder)
    assert code == 2 and "it lacks coat_set, journal" in err


def test_a_start_that_is_cut_off_leaves_no_file_that_is_taken_for_a_lost_one(tmp_path, monkeypatch):
    def cut_off(*_):
        raise KeyboardInterrupt

    with monkeypatch.context() as patch, pytest.raises(KeyboardInterrupt):
        patch.setattr(database_module, "migrate", cut_off)
        Database(tmp_path / "data")
    assert not (tmp_path / "data" / FILE).exists()
    with Database(tmp_path / "data").reading() as db:
        assert projects.get_all(db) == []


class LongAgo(datetime):
    """A clock that was set back."""

    @classmethod
    def now(cls, tz=None):
        return datetime(1999, 12, 31, 23, 59, tzinfo=UTC)


def test_a_clock_that_is_set_back_changes_nothing_but_times(folder, monkeypatch):
    monkeypatch.setattr("pivrel.store.times.datetime", LongAgo)
    client = create_app(Database(folder)).test_client()
    cube = Asking(client, 1)
    cube.client.patch(cube.path, json={"name": "long ago"})
    cube.edit(kind="keep_pick", name="top", pick={"faces": [1]})
    state = client.get(cube.path).json
    assert state["name"] == "long ago" and state["pick_sets"]


@pytest.mark.parametrize(
    ("number", "status", "word"),
    [(errno.EMFILE, 503, "no more files open"), (errno.EFBIG, 507, "as long as")],
)
def test_the_systems_limits_are_told(client, upload, monkeypatch, number, status, word):
    from pivrel.jobs import leftovers

    def limited(*_):
        raise OSError(number, "x", "/tmp/x")

    monkeypatch.setattr(leftovers, "new_folder", limited)
    answer = upload("/api/imports", {"a.obj": b"v 0 0 0\n"})
    assert answer.status_code == status and word in answer.json["error"]
