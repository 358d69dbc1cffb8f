"""Bytes that anything refers to stay, and those that nothing refers to go, in whatever order things happen."""

import json
import zipfile
from io import BytesIO
from itertools import permutations

import numpy as np
import pytest

from pivrel.recipe import changed
from pivrel.store import blobs, journal, projects
from pivrel.store.documents import Document
from pivrel.store.errors import LostBytesError
from tests.conftest import Asking, facts_of
from tests.formats.test_sources import obj_files, picture, png
from tests.lengths import some
from tests.store.counting import named_and_kept
from tests.web.test_imports import Importing

IMAGE = png(picture(0))
"""The base color of the model that `obj_files` writes: the same bytes come as a material, too."""


class Sharing:
    """Two projects and a library that may all hold the same image, and what happens to them."""

    def __init__(self, client, upload, cube):
        self.client, self.upload, self.cube = client, upload, cube
        self.others = []

    def material(self):
        """The image comes as a material, which is laid on the cube."""
        key = self.upload("/api/library", {"own_600x600mm.png": IMAGE}).json["key"]
        self.cube.lay({"all": True}, key)

    def model(self):
        """The image comes with a model, whose material is taken."""
        state = Importing(self.client, self.upload, obj_files()).open(unit="m", up="z")
        Asking(self.client, state["id"]).edit(kind="take_source", source=0)
        self.others.append(state["id"])

    def delete(self):
        """The newest project beside the cube goes, or else the materials of the library."""
        if self.others:
            assert self.client.delete(f"/api/projects/{self.others.pop()}").status_code == 204
            return
        for held in self.client.get("/api/library").json:
            if held.get("own"):
                self.client.delete(f"/api/library/{held['key']}")

    def archive(self):
        """Every project is written as a file and opened again."""
        for project in [int(self.cube.path.rsplit("/", 1)[1]), *self.others]:
            data = self.client.get(f"/api/projects/{project}/handover/project").data
            answer = self.upload("/api/projects", {"a.pivrel": data})
            assert answer.status_code == 201, answer.json
            self.others.append(answer.json["id"])

    def undo(self):
        """The last edits of the cube are taken back, carried out again, and taken back for a new one."""
        if self.cube.state["undo"]:
            self.cube.step("undo")
            self.cube.step("redo")
            self.cube.step("undo")
            self.cube.lay({"faces": [0]}, "brick")

    def everything_answers(self):
        for project in self.client.get("/api/projects").json:
            path = f"/api/projects/{project['id']}"
            for what in ("handover/glb", "handover/recipe", "handover/project", "picture.jpg"):
                assert self.client.get(f"{path}/{what}").status_code == 200, (path, what)
            for material in self.client.get(path).json["materials"].values():
                for sha in material["images"].values():
                    assert self.client.get(f"/api/images/{sha}").status_code == 200


@pytest.mark.parametrize(
    "order", some(permutations(("material", "model", "delete", "archive")), 4), ids="-".join
)
def test_what_is_referred_to_stays_and_the_rest_goes(order, client, upload, cube, database):
    sharing = Sharing(client, upload, cube)
    for act in order:
        getattr(sharing, act)()
        sharing.undo()
        with database.reading() as db:
            named, there = named_and_kept(db)
        assert named == there, f"after {act}"
        sharing.everything_answers()
    while sharing.others:
        sharing.delete()
    sharing.delete()
    client.delete(cube.path)
    for key in ("brick", "oak", "walnut"):
        with database.transaction() as db:
            projects.delete_library(db, key)
    with database.reading() as db:
        assert db.execute("SELECT count(*) FROM blob").fetchone()[0] == 0
        assert db.execute("PRAGMA foreign_key_check").fetchall() == []


def test_an_image_that_came_with_a_model_first_is_a_material_like_any_other(client, upload):
    Importing(client, upload, obj_files()).open(unit="m", up="z")
    made = upload("/api/library", {"own_600x600mm.png": IMAGE}).json
    sha = made["images"]["base_color"]
    answer = client.get(f"/api/images/{sha}")
    assert (answer.status_code, answer.mimetype, answer.data) == (200, "image/png", IMAGE)
    for what in ("file", "materialx"):
        assert client.get(f"/api/library/{made['key']}/{what}").status_code == 200
    assert client.get(f"/api/reading/{sha}").status_code == 200


@pytest.mark.parametrize("harm", ["missing", "changed"])
def test_bytes_that_are_lost_are_an_error_at_every_writer(harm, client, cube, database):
    cube.lay({"all": True})
    with database.reading() as db:
        images = projects.contents(db, 1).materials["brick"].body.images
    sha = images["base_color"]
    raw = database._connection()
    raw.execute("PRAGMA foreign_keys = OFF")
    if harm == "missing":
        raw.execute("DELETE FROM blob WHERE sha256 = ?", (sha,))
    else:
        raw.execute("UPDATE blob SET data = ? WHERE sha256 = ?", (b"\x89PNG\r\n\x1a\n" + bytes(40), sha))
    raw.execute("PRAGMA foreign_keys = ON")
    for what in ("glb", "obj", "gltf", "recipe", "project"):
        answer = client.get(f"{cube.path}/handover/{what}")
        assert (
            answer.status_code == 500
            and f"{sha[:12]}) {'are' if harm == 'missing' else 'were'}" in answer.json["error"]
        )
    with database.reading() as db, pytest.raises(LostBytesError):
        blobs.get_images(db, images)


def test_nothing_can_refer_to_bytes_that_are_not_there(cube, database):
    cube.lay({"all": True})
    with database.reading() as db:
        before = projects.contents(db, 1)
    after = before.copied()
    body = changed(before.materials["brick"].body, images={"base_color": "ab" * 32})
    after.materials["brick"] = Document("brick", 0, body)
    with pytest.raises(LostBytesError, match="nothing was changed"), database.transaction() as db:
        journal.write(db, 1, cube.state["revision"], "x", journal.changes_between(before, after))


def test_room_comes_back_when_a_project_goes(client, cube, database, upload):
    with database.transaction() as db:
        noise = np.random.default_rng(1).bytes(8 << 20)
        facts = facts_of("x", files=[blobs.put_original(db, "x.obj", noise)])
        project = projects.create(db, "large", projects.get(db, 1).mesh, facts)
    with database.reading() as db:
        pages = db.execute("PRAGMA page_count").fetchone()[0]
    assert client.delete(f"/api/projects/{project}").status_code == 204
    with database.reading() as db:
        now, free = (db.execute(f"PRAGMA {p}").fetchone()[0] for p in ("page_count", "freelist_count"))
    assert pages - now > 2000 and free == 0


def test_the_number_of_a_deleted_project_is_not_given_again(client, cube, database):
    mesh = client.get(cube.path).json["model"]["mesh"]
    with database.transaction() as db:
        second = projects.create(db, "b", mesh, facts_of("x"))
        projects.delete(db, second)
        assert projects.create(db, "c", mesh, facts_of("x")) == second + 1


def test_long_picks_are_packed_and_the_journal_keeps_what_changed(client, upload, database):
    count = 5000
    mesh = "".join(f"v {i} {j} 0\n" for i in range(count + 1) for j in range(2))
    faces = "".join(f"f {2 * i + 1} {2 * i + 3} {2 * i + 4} {2 * i + 2}\n" for i in range(count))
    state = Importing(client, upload, {"long.obj": (mesh + faces).encode()}).open(unit="mm", up="z")
    project = Asking(client, state["id"])
    ids = list(range(1, count, 1))
    project.lay({"faces": ids})
    for turn in (10, 20):
        project.change(["F1"], turn_deg=turn)
    with database.reading() as db:
        body = projects.contents(db, state["id"]).finishes["F1"].fields
        sizes = [len(r[0]) for r in db.execute("SELECT changes FROM journal ORDER BY seq")]
        last = json.loads(db.execute("SELECT changes FROM journal ORDER BY seq DESC").fetchone()[0])
    assert isinstance(body["pick"]["faces"], str) and len(body["pick"]["faces"]) < 200
    assert sizes[0] < 4000 and max(sizes[1:]) < 500
    assert set(last[0]["after"]["body"]) == {"turn_deg"}
    finish = project.state["finishes"][0]
    assert (finish["faces"], finish["pick_words"]) == (count - 1, f"{count - 1:,} faces")
    recipe = client.get(f"{project.path}/handover/recipe").data
    with zipfile.ZipFile(BytesIO(recipe)) as file:
        assert json.loads(file.read("recipe.json"))["finishes"][0]["pick"] == {"faces": ids}, (
            "others read ids"
        )
    back = project.step("undo")
    assert back["finishes"][0]["turn_deg"] == 10
    picked = project.pick(how="replace", pick={"faces": ids})
    assert (picked["faces"], picked["pick"]) == (count - 1, body["pick"])
