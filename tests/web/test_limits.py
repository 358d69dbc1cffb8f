"""What is bounded: memory and disk of long picks, large and broken images, connections; and what once failed."""

import io
import json
import socket
import subprocess
import sys
import threading
import urllib.request

import numpy as np
import PIL.Image
import pytest

from pivrel.core.geometry.mesh import Mesh
from pivrel.materials import images
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.web.app import create_app
from tests.conftest import Asking, facts_of
from tests.formats.test_sources import picture, png
from tests.lengths import at_length
from tests.serving import Server, free_port
from tests.web.test_spare import soon


@pytest.mark.slow
def test_many_edits_of_a_long_pick_take_no_more_memory_and_little_disk(tmp_path):
    """Two hundred edits of a pick of 900,000 faces, or forty of 180,000."""
    edits, side = at_length((40, 300), (200, 671))
    run = subprocess.run(
        [sys.executable, "-m", "tests.web.long_pick", str(tmp_path), str(edits), str(side)],
        capture_output=True,
        text=True,
        check=True,
    )
    took = json.loads(run.stdout.splitlines()[-1])
    share = took["faces"] / 900_000
    assert share > at_length(0.19, 0.99)
    assert took["memory_grown"] < at_length(25, 50) << 20 and took["file_grown_an_edit"] < 0.2e6 * share, took


def blank(width, height, kind="PNG", mode="L", **more):
    out = io.BytesIO()
    PIL.Image.new(mode, (width, height), 90).save(out, kind, **more)
    return out.getvalue()


def test_an_image_bomb_is_refused_in_a_sentence_before_it_is_unpacked(upload):
    answer = upload("/api/library", {"a.png": blank(13_300, 13_300)})
    assert answer.status_code == 422 and "13,300 x 13,300 pixels; up to 134 million" in answer.json["error"]


def test_a_large_image_is_unpacked_elsewhere_and_reduced(upload, client):
    answer = upload("/api/library", {"large.jpg": blank(8192, 4096, "JPEG")})
    assert answer.status_code == 201
    sha = answer.json["images"]["base_color"]
    for query, most in (("?view", 2048), ("?size=64", 64)):
        shown = PIL.Image.open(io.BytesIO(client.get(f"/api/images/{sha}{query}").data))
        assert max(shown.size) == most
    told = client.get(f"/api/reading/{sha}").json
    assert told["pixels"] == [8192, 4096]
    assert PIL.Image.open(io.BytesIO(client.get(f"/api/images/{sha}").data)).size == (8192, 4096)


def test_a_broken_large_image_ends_its_own_process_only(upload):
    data = blank(8192, 4096)
    answer = upload("/api/library", {"a.png": data[: len(data) // 2]})
    assert answer.status_code == 422 and "cannot be read" in answer.json["error"]


@pytest.mark.parametrize("size", [(1, 100_000), (100_000, 1), (2, 2), (1, 1), (17, 3)])
def test_images_of_odd_sizes(upload, client, cube, size):
    made = upload("/api/library", {"odd.png": blank(*size)})
    assert made.status_code == 201, made.json
    key, sha = made.json["key"], made.json["images"]["base_color"]
    for path in (
        f"/api/images/{sha}?size=64",
        f"/api/images/{sha}?view",
        f"/api/reading/{sha}",
        f"/api/library/{key}/file",
    ):
        assert client.get(path).status_code == 200, path
    assert client.post(f"/api/library/{key}/seamless").status_code in (201, 422)
    cube.lay({"all": True}, key)
    for what in ("handover/glb", "handover/obj", "picture.jpg"):
        assert client.get(f"{cube.path}/{what}").status_code == 200


def test_broken_camera_notes_say_nothing(upload):
    exif = b"Exif\0\0MM\0*\0\0\0\x08" + b"\xff\xff" + b"\x01\x12\0\x03\xff\xff\xff\xff" * 9
    assert upload("/api/library", {"a.jpg": blank(20, 10, "JPEG", exif=exif)}).status_code == 201
    turned = PIL.Image.Exif()
    turned[0x0112] = 6
    made = upload("/api/library", {"b.jpg": blank(20, 10, "JPEG", exif=turned)}).json
    assert made["repeat_mm"][1] == 2 * made["repeat_mm"][0], (
        "a photograph that lies on its side is set upright"
    )


def test_every_check_of_an_image_is_told_in_a_sentence():
    for data in (
        b"",
        b"\x89PNG\r\n\x1a\n" + bytes(40),
        png(picture(1))[:200],
        b"\xff\xd8\xff\xe1\xff\xff" + bytes(99),
    ):
        with pytest.raises(images.ImageError, match="cannot be read"):
            images.checked_image(data, "x.png")


def test_the_grain_look_where_a_sheet_is_smeared_on_a_face_that_it_runs_on_to(cube):
    cube.lay({"all": True}, "oak", "planar")
    cube.change(["F1"], run_on=True)
    assert cube.client.get(f"{cube.path}/looks/grain").status_code == 200
    for face in range(6):
        asked = {"kind": "run_across", "face": face, "place": [500, 500, 500]}
        answer = cube.client.post(
            f"{cube.path}/edits", json={"revision": cube.state["revision"], "edit": asked}
        )
        assert answer.status_code in (200, 400, 422)
        cube.state = cube.client.get(cube.path).json


@pytest.mark.parametrize(
    "edit",
    [
        {"kind": "change_material", "material": "brick", "marks": None},
        {"kind": "change_material", "material": "brick", "marks": {"a": [1e308, 0], "b": [-1e308, 0], "distance": 1}},
        {"kind": "change_material", "material": "brick", "marks": {"a": [0, 0], "b": [1, 0], "distance": 1e11}},
        {"kind": "keep_view", "name": "v", "position_mm": [0, 0, 0], "target_mm": [0, 0, 1], "up": [0, 0, 1], "height_mm": None,
         "picture": "é" * 10},
        {"kind": "remove", "finishes": ["F1", "F1"]},
        {"kind": "move", "finish": "F9", "to": 10**30},
        {"kind": "accept", "finish": "F1", "faces": [10**30]},
    ],
)  # fmt: skip
def test_edits_that_once_failed(cube, edit):
    cube.lay({"all": True})
    answer = cube.client.post(f"{cube.path}/edits", json={"revision": cube.state["revision"], "edit": edit})
    assert answer.status_code in (200, 400, 422), answer.json


@pytest.mark.parametrize("entry", [1e15, -1e15, 1e200, 0.0])
def test_a_rectangle_seen_through_an_impossible_eye(cube, entry):
    matrix = [1e-3, 0, 0, 0, 0, 1e-3, 0, 0, 0, 0, -1e-4, entry, entry, 0, 0, 1]
    region = {"outline": [[0, 0], [99, 0], [99, 99]], "eye": {"matrix": matrix, "size": [100, 100]}}
    answer = cube.client.post(f"{cube.path}/pick", json={"how": "replace", "region": region})
    assert answer.status_code in (200, 400, 422)


def test_a_newer_vertex_far_away_is_refused_at_the_import_and_in_a_project_file(client, upload):
    from tests.web.test_imports import Importing

    state = Importing(client, upload, {"a.obj": b"v 0 0 0\nv 2.8e20 0 0\nv 0 1 0\nf 1 2 3\n"}).state()
    assert state["state"] == "failed" and "from the origin" in state["error"]


def test_names_with_line_breaks_that_an_earlier_version_kept_are_lines_and_no_headers(client, cube, database):
    cube.lay({"all": True})
    with database.transaction() as db:
        file = blobs.put_original(db, "a@@Set-Cookie: x=1.obj", b"data")
        mesh = projects.get(db, 1).mesh
        project = projects.create(db, "odd", mesh, facts_of("x", files=[file]))
        db.execute("UPDATE project SET model = replace(model, '@@', '\\r\\n') WHERE id = ?", (project,))
        db.execute("UPDATE document SET body = replace(body, 'Brick', 'Br\\u0001ick')")
        db.execute("UPDATE library_material SET body = replace(body, 'Brick', 'Br\\nick')")
    fresh = create_app(Database(database.path.parent)).test_client()
    names = [m["name"] for m in fresh.get(cube.path).json["materials"].values()]
    assert names == ["Br ick, made up"] and "Br ick, made up" in [
        m["name"] for m in fresh.get("/api/library").json
    ]
    answer = client.get(f"/api/projects/{project}/original/0")
    assert answer.data == b"data" and "Set-Cookie" not in answer.headers


def test_idle_connections_leave_room(tmp_path):
    server = Server(tmp_path / "data", free_port())
    idle = []
    try:
        for _ in range(250):
            idle.append(socket.create_connection(("127.0.0.1", server.port), timeout=5))
        with urllib.request.urlopen(f"{server.address}/api/projects", timeout=10) as answer:
            assert answer.status == 200
    finally:
        for connection in idle:
            connection.close()
        server.kill()


def test_a_pick_names_as_many_parts_as_a_model_has(client, database):
    """Twelve thousand parts of one shape, each with a name of its own."""
    count = 12_000
    corners = np.arange(3 * count, dtype=np.int32)
    mesh = Mesh(
        points=np.tile([[0.0, 0, 0], [30, 0, 0], [0, 40, 0]], (count, 1)) + np.repeat(np.arange(count), 3)[:, None] * 100,
        corners=corners,
        face_start=np.arange(0, 3 * count + 1, 3, dtype=np.int32),
        face_part=np.arange(count, dtype=np.int32),
        part_names=tuple(f"tile [{k}]" for k in range(count)),
    )  # fmt: skip
    with database.transaction() as db:
        project = projects.create(db, "tiles", blobs.put_mesh(db, mesh), facts_of("a.obj"))
    tiles = Asking(client, project)
    clicked = {"face": 7, "level": "shape"}
    found = client.post(f"{tiles.path}/pick", json={"how": "replace", "clicked": clicked}).json
    assert found["parts"] == count and len(found["pick"]["parts"]) == count
    assert tiles.lay(found["pick"])["finishes"][0]["faces"] == count


def test_an_endless_name_of_a_part_is_cut_and_the_part_can_be_picked(client, upload):
    model = b"o %s\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n" % (b"[" * 100_000)
    number = upload("/api/imports", {"a.obj": model}).json["id"]
    soon(lambda: client.get(f"/api/imports/{number}").json["state"] != "working")
    made = client.post(f"/api/imports/{number}/project", json={"unit": "m", "up": "z"}).json["id"]
    part = Asking(client, made)
    found = client.post(
        f"{part.path}/pick", json={"how": "replace", "clicked": {"face": 0, "level": "part"}}
    ).json
    assert found["pick"] == {"parts": ["[[]" * 1000]}
    assert part.lay(found["pick"])["finishes"][0]["faces"] == 1


def test_long_work_waits_for_its_turn_and_too_much_of_it_is_refused(client, cube, monkeypatch):
    from pivrel.web import turns

    monkeypatch.setattr(turns, "_TURNS", threading.BoundedSemaphore(1))
    monkeypatch.setattr(turns, "_PLACES", threading.BoundedSemaphore(1))
    cube.lay({"all": True})
    turns._PLACES.acquire()
    answer = client.get(f"{cube.path}/handover/glb")
    assert answer.status_code == 503 and "busy with long tasks" in answer.json["error"]
    turns._PLACES.release()
    turns._TURNS.acquire()
    gone = client.get(
        f"{cube.path}/handover/glb", environ_overrides={"waitress.client_disconnected": lambda: True}
    )
    assert gone.status_code == 408
    turns._TURNS.release()
    assert client.get(f"{cube.path}/handover/glb").status_code == 200
    assert client.get(cube.path).status_code == 200


def test_an_edit_does_not_wait_for_long_work(client, cube):
    computing = client.application.extensions["pivrel"].computing
    cube.lay({"all": True})
    begun, over = threading.Event(), threading.Event()

    def work():
        with computing.long_work():
            begun.set()
            over.wait(30)

    thread = threading.Thread(target=work)
    thread.start()
    begun.wait()
    cube.change(["F1"], turn_deg=30)
    cube.st("F1")
    over.set()
    thread.join()
    with computing.short, computing.long_work():
        assert computing.short.is_mine, "within short work long work takes no other lane"
