"""A row of which a stage fails is told as a trouble of that row: the project opens, and all else goes on."""

import inspect
import io
import json
import re
import zipfile
from pathlib import Path

import numpy as np
import pygltflib
import pytest

from pivrel.cli.main import main
from pivrel.core import schedule as core_schedule
from pivrel.core.cache import VERSIONS, KeepAll
from pivrel.core.failures import STAGES
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.formats.model import gltf_write, obj_files
from pivrel.project import appearance
from pivrel.project.computing import ROOMS
from tests.shapes import cuboid

EXAMPLE = Path(__file__).parents[1] / "docs" / "example"

FAULT = ZeroDivisionError("made by the test")
FLOWING = {"kind": "flow"}


def failing(real, is_row):
    """The function, but that it fails for one row."""

    def wrapped(*args, **kwargs):
        if is_row(*args):
            raise FAULT
        return real(*args, **kwargs)

    return wrapped


def of_row(*args):
    """Whether what a stage is given belongs to the row in hand."""
    return any(getattr(arg, "name", None) == "Struck" for arg in args)


def holds_one(pick, surface):
    return np.flatnonzero(REAL["resolve"](pick, surface)).tolist() == [4]


REAL = {name: getattr(core_schedule, name) for name in ("resolve",)}

LAID = {
    "resolve": (core_schedule, "resolve", holds_one, "its faces could not be found"),
    "solve": (core_schedule, "solve", of_row, "it could not be solved"),
    "settle": (core_schedule, "settle_pieces", of_row, "it could not be fitted"),
    "sheets": (core_schedule, "with_sheets", of_row, "its sheet could not be settled"),
    "lay": (core_schedule, "lay", of_row, "it could not be laid"),
}
MEASURED = ["measure", "seams_of", "face_stretch", "find_pieces", "shown_by_face"]


@pytest.fixture
def struck(cube, client):
    """A project of three rows, the second of which will fail: its file and each of its addresses are asked for."""
    cube.lay({"all": True})
    cube.lay({"faces": [1]}, "oak", "planar")
    cube.edit(kind="rename", finishes=["F2"], name="Struck")
    cube.lay({"faces": [2]}, "walnut")
    return cube


def changed_a_bit(cube):
    """So that nothing of the row is kept from before."""
    cube.edit(kind="set_pick", finishes=["F2"], pick={"faces": [4]})
    cube.change(["F2"], turn_deg=12.0)
    cube.edit(kind="vary", finishes=["F2"], variation={"by": "face"})


ADDRESSES = (
    "", "/figures", "/totals", "/cover", "/handover", "/looks/stretch", "/looks/seams", "/looks/grain",
    "/laying/F1", "/laying/F2", "/laying/F3", "/datum/F2", "/bakeable", "/handover/recipe", "/handover/project",
    "/handover/glb", "/handover/obj", "/picture.jpg",
)  # fmt: skip


def everything_answers(cube):
    for address in ADDRESSES:
        answer = cube.client.get(cube.path + address)
        assert answer.status_code == 200, (address, answer.status_code, answer.json)


def row(cube, key):
    return next(r for r in cube.client.get(cube.path).json["finishes"] if r["key"] == key)


@pytest.mark.parametrize("stage", LAID)
def test_a_row_that_cannot_be_laid_says_so_and_the_others_go_on(struck, monkeypatch, stage):
    module, name, is_row, told = LAID[stage]
    if stage == "solve":
        struck.change(["F2"], projection={"kind": "flow"})
    monkeypatch.setattr(module, name, failing(getattr(module, name), is_row))
    changed_a_bit(struck)
    found = row(struck, "F2")
    assert told in found["troubles"] and "ZeroDivisionError" in found["troubles"]
    assert found["faces"] == 0 and row(struck, "F1")["faces"] == 5 and row(struck, "F3")["faces"] == 1
    everything_answers(struck)
    assert struck.client.get(f"{struck.path}/datum/F2").json["troubles"] == [found["troubles"]]
    problems = struck.client.get(f"{struck.path}/handover").json["problems"]
    assert [p["finish"] for p in problems if "left out of the files" in p["text"]] == ["F2"]
    # The others are edited as before, and undo leads back to where nothing failed.
    struck.change(["F3"], turn_deg=30.0)
    assert row(struck, "F3")["turn_deg"] == 30.0
    struck.step("undo")
    monkeypatch.undo()
    struck.edit(kind="set_pick", finishes=["F2"], pick={"faces": [3]})
    assert row(struck, "F2")["troubles"] == "" and row(struck, "F2")["faces"] == 1


def test_what_failed_is_not_tried_again_until_something_changes(struck, monkeypatch):
    asked = []

    def counted(*args):
        asked.append(of_row(*args))
        return asked[-1]

    monkeypatch.setattr(
        core_schedule, "settle_pieces", failing(core_schedule.__dict__["settle_pieces"], counted)
    )
    changed_a_bit(struck)
    before = sum(asked)
    everything_answers(struck)
    assert sum(asked) == before


@pytest.mark.parametrize("stage", MEASURED)
def test_a_row_that_cannot_be_measured_lies_as_before(struck, monkeypatch, stage):
    struck.edit(kind="tile", finishes=["F2"], tile=False)
    monkeypatch.setattr(core_schedule, stage, failing(getattr(core_schedule, stage), of_row))
    changed_a_bit(struck)
    everything_answers(struck)
    assert row(struck, "F2")["faces"] == 1
    figures = struck.client.get(f"{struck.path}/figures").json
    assert {"F1", "F3"} <= figures.keys()
    if stage == "measure":
        assert "F2" not in figures
        problems = struck.client.get(f"{struck.path}/handover").json["problems"]
        assert [p["finish"] for p in problems if "could not be measured" in p["text"]] == ["F2"]
    struck.step("undo")
    everything_answers(struck)


def test_a_row_that_cannot_be_drawn_is_bare_in_the_picture(struck, monkeypatch):
    def draw(surface, face_finish, *rest):
        if (face_finish == 1).any():
            raise FAULT
        return drawn(surface, face_finish, *rest)

    drawn = appearance.__dict__["draw"]
    monkeypatch.setattr(appearance, "draw", draw)
    changed_a_bit(struck)
    everything_answers(struck)


@pytest.mark.parametrize("kind", ["glb", "obj"])
def test_a_row_that_cannot_be_written_is_left_out_and_the_file_says_so(struck, monkeypatch, kind):
    for module, name in ((obj_files, "_finish_material"), (gltf_write._Writer, "_material")):
        monkeypatch.setattr(module, name, failing(getattr(module, name), of_row))
    everything_answers(struck)
    data = struck.client.get(f"{struck.path}/handover/{kind}").data
    if kind == "glb":
        gltf = pygltflib.GLTF2.load_from_bytes(data)
        told, names = " ".join(gltf.asset.extras["left_out"]), [m.name for m in gltf.materials]
    else:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            text = archive.read("cube.obj").decode()
            names = [line[7:] for line in text.splitlines() if line.startswith("usemtl ")]
        told = text.splitlines()[0]
    assert "Struck is left out: it could not be written" in told and "ZeroDivisionError" in told
    assert "Struck" not in names and len(set(names)) == 3, "two finishes, and the face as it came"


def test_a_file_that_fails_without_any_row_says_why(struck, monkeypatch):
    monkeypatch.setattr(obj_files, "write_obj", failing(obj_files.__dict__["write_obj"], lambda *_: True))
    struck.client.application.testing = False
    assert struck.client.get(f"{struck.path}/handover/obj").status_code == 500


def test_no_memory_is_told_and_tried_again(monkeypatch):
    from tests.test_laid_project import finish, project

    tried = []

    def full(*args):
        tried.append(args)
        if len(tried) == 1:
            raise MemoryError
        return laid(*args)

    laid = core_schedule.__dict__["lay"]
    monkeypatch.setattr(core_schedule, "lay", full)
    found = project(finish("F1", {"all": True}, turn_deg=77.0)).finishes
    schedule = Schedule(Surface(cuboid()), "mesh of this test", found, KeepAll())
    assert "not enough memory" in schedule.failure("F1")
    assert schedule.failure("F1") == "" and len(schedule.laying("F1"))


def test_drapes_between_lines_beyond_all_measure_open(cube, client):
    """A guide of which the plain formula for shares divides by zero: its project answered with 500 from then on."""
    cube.lay({"all": True})
    far = [[[0, 0, 1e12], [1000, 0, 1e12]], [[0, 1e12, 0], [1e-3, 1e12, 1e12]]]
    divided = [[[0, 90, 1e6], [500, 1e-9, 90]], [[-3, 1e-9, 1e6], [0, 0, -1e12]]]
    for lines in (divided, far, [far[0], far[0]], [[[0, 0, 0], [1, 0, 0]], [[1e12, 0, 0], [0, 0, 1e-9]]]):
        cube.edit(kind="set_projection", finishes=["F1"], projection={"kind": "drape", "lines": lines})
        for address in ("", "/figures", "/handover", "/handover/glb", "/picture.jpg"):
            assert client.get(cube.path + address).status_code == 200, json.dumps(lines)


def test_every_stage_has_its_sentence_and_its_room():
    used = set(re.findall(r"_kept\(\s*\"(\w+)\"", inspect.getsource(core_schedule)))
    assert used == STAGES.keys() and used <= ROOMS.keys()


def test_the_command_line_writes_the_others_and_says_which_it_left_out(tmp_path, monkeypatch, capsys):
    recipe = json.loads((EXAMPLE / "brick.json").read_text())
    first = recipe["finishes"][0]
    recipe["finishes"] = [{**first, "name": "Whole"}, {**first, "name": "Struck", "pick": {"faces": [0]}}]
    (tmp_path / "two.json").write_text(json.dumps(recipe))
    monkeypatch.setattr(core_schedule, "lay", failing(core_schedule.__dict__["lay"], of_row))
    given = [str(tmp_path / "two.json"), str(EXAMPLE / "wall.obj")]
    assert main(["apply", *given, "-o", str(tmp_path / "out.glb")]) == 0
    said = capsys.readouterr().out
    assert "Struck: not laid: it could not be laid" in said and "note: Struck is left out" in said
    gltf = pygltflib.GLTF2.load(str(tmp_path / "out.glb"))
    assert [m.name for m in gltf.materials] == ["Whole"]
    assert main(["measure", *given, "--json"]) == 0
    told = {row["name"]: row for row in json.loads(capsys.readouterr().out)["finishes"]}
    assert told["Whole"]["faces"] > 0 and told["Struck"]["faces"] == 0
    assert "could not be laid" in told["Struck"]["not_laid"][0]


def test_a_drape_on_no_face_lies_nowhere_and_nothing_is_wrong(cube):
    cube.lay({"all": True})
    cube.edit(kind="set_projection", finishes=["F1"], projection={"kind": "drape", "over": {"faces": [1]}})
    cube.edit(kind="set_pick", finishes=["F1"], pick={"parts": ["nothing*"]})
    found = row(cube, "F1")
    assert (found["faces"], found["failed"], found["troubles"]) == (0, False, "")


def test_a_model_that_is_moved_keeps_no_more_of_those_before(cube, client):
    """Each move is another mesh: all that was computed on the ones before stayed until its room was full."""
    cube.lay({"all": True})
    computing = client.application.extensions["pivrel"].computing
    for step in range(2 * VERSIONS + 2):
        cube.edit(kind="place_model", unit="m", up="y", shift_mm=[10.0 * step + 10, 0, 0])
        for address in ("", "/figures", "/looks/seams", "/laying/F1"):
            assert client.get(cube.path + address).status_code == 200
    for room in ("surfaces", "layings", "covers", "figures", "seams", "held"):
        assert len(computing._kept[room]._values) <= 2 * VERSIONS, room


def test_a_row_that_is_changed_keeps_no_more_of_what_it_said_before(cube, client):
    """What each edit made of the row and of its line stayed until its room was full."""
    cube.lay({"all": True})
    computing = client.application.extensions["pivrel"].computing
    for step in range(5 * VERSIONS):
        cube.change(["F1"], turn_deg=float(step))
    for room in ("finishes", "rows"):
        assert len(computing._kept[room]._values) <= VERSIONS, room


def test_an_edit_tries_no_row_but_the_one_that_may_lie_otherwise(cube, monkeypatch):
    """Each edit asks of every row whether it can be laid: with a thousand of them that took most of its time."""
    cube.lay({"all": True})
    cube.edit(kind="duplicate", finishes=["F1"])
    cube.edit(kind="duplicate", finishes=["F1", "F2"])
    tried = []
    real = Schedule._try
    monkeypatch.setattr(Schedule, "_try", lambda self, key: (tried.append(key), real(self, key)))
    cube.change(["F2"], turn_deg=30.0)
    assert tried == [], "a placement of the whole sheet moves it and no more"
    cube.edit(kind="set_pick", finishes=["F2"], pick={"faces": [1]})
    assert set(tried) == {"F2"}
