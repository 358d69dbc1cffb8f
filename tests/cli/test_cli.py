"""The command line, run as a user runs it."""

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from pivrel.cli.main import main
from pivrel.demo import bracket
from pivrel.materials.images import Image, decode
from tests.formats.bad import BAD
from tests.samples import compas_sample
from tests.shapes import lido_obj

EXAMPLE = Path(__file__).parents[2] / "docs" / "example"
WALL, BRICK = EXAMPLE / "wall.obj", EXAMPLE / "brick.json"


def run(capsys, *args):
    status = main([str(a) for a in args])
    out = capsys.readouterr()
    return status, out.out, out.err


def test_apply_prints_a_line_a_finish_and_writes(capsys, tmp_path):
    for suffix in (".glb", ".gltf", ".obj"):
        status, out, err = run(capsys, "apply", BRICK, WALL, "-o", tmp_path / f"out{suffix}")
        assert (status, err) == (0, "")
        walls, top = out.splitlines()
        assert walls.startswith("Walls: 5 faces, 4.900 m², 100.0% true to scale, 0.000 m² smeared, ")
        assert top.startswith("Top: 1 faces, 0.450 m²")
        status, again, _ = run(capsys, "inspect", tmp_path / f"out{suffix}", "--json")
        assert np.allclose(json.loads(again)["bounds_mm"], [[0, 0, 0], [2000, 225, 1000]], atol=1e-4)
    assert not list(tmp_path.glob(".pivrel-*"))


def test_a_finish_that_later_ones_cover_is_not_called_true(capsys, tmp_path):
    status, out, _ = run(capsys, "apply", EXAMPLE / "every.json", WALL, "-o", tmp_path / "out.glb")
    assert status == 0 and out.splitlines()[0] == "Box: covers nothing"


def test_inspect_json(capsys):
    status, out, _ = run(capsys, "inspect", WALL, "--json", "--unit", "ft", "--up", "z")
    facts = json.loads(out)
    assert status == 0
    assert (facts["faces"], facts["triangles"], facts["patches"]) == (6, 12, 6)
    assert facts["parts"] == [{"name": "Wall", "faces": 6}]
    assert facts["bounds_mm"][1] == pytest.approx([609.6, 304.8, 0])
    assert facts["guessed"] is False and facts["found"] == []
    status, out, _ = run(capsys, "inspect", compas_sample("boxes.obj"))
    assert "parts: 8" in out and "edges belong to more than two faces" in out


def test_measure_agrees_with_the_closed_form(capsys, tmp_path):
    prism = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 -1\nv 2 1 -1\nv 0 0 -1\nv 0 1 -1\nf 1 2 3 4\nf 2 5 6 3\nf 1 4 8 7\n"
    (tmp_path / "prism.obj").write_text(prism)
    recipe = json.loads(BRICK.read_text())
    recipe["finishes"] = [{**recipe["finishes"][1], "pick": {"all": True},
                           "datum": {"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}}]  # fmt: skip
    (tmp_path / "r.json").write_text(json.dumps(recipe))
    status, out, _ = run(
        capsys, "measure", tmp_path / "r.json", tmp_path / "prism.obj", "--unit", "m", "--up", "z", "--json"
    )
    (top,) = json.loads(out)["finishes"]
    assert status == 0
    assert top["smeared_m2"] == pytest.approx(1) and top["smeared_faces"] == [2]
    assert top["true_to_scale"] == pytest.approx(1 / (2 + 2**0.5))
    assert json.loads(out)["bare"]["faces"] == []


@pytest.mark.parametrize("case", BAD)
def test_a_bad_model_is_one_line_and_exit_2(case, capsys, tmp_path):
    files, word = BAD[case]
    for name, data in files.items():
        (tmp_path / name).write_bytes(data)
    model = tmp_path / next(iter(files))
    for command in (
        ("inspect", model),
        ("apply", BRICK, model, "-o", tmp_path / "out.glb"),
        ("measure", BRICK, model),
    ):
        status, out, err = run(capsys, *command)
        assert (status, out) == (2, "")
        assert err.startswith(f"error: {model}: ") and err.count("\n") == 1
        assert word in err
    assert sorted(p.name for p in tmp_path.iterdir()) == sorted(files)


def changed(**changes):
    return {**json.loads(BRICK.read_text()), **changes}


def finish(**changes):
    recipe = json.loads(BRICK.read_text())
    return {**recipe, "finishes": [{**recipe["finishes"][0], **changes}]}


@pytest.mark.parametrize(
    "recipe, word",
    [
        ("{", "broken at line 1"),
        ("[]", "valid dictionary"),
        (changed(recipe=2), "recipe"),
        (changed(note="hi"), "note: this key is not known"),
        (finish(material="slate"), "'slate'"),
        (finish(turn_deg=1, grain_deg=2), "both turn_deg and grain_deg"),
        (finish(pick={"faces": [900]}), "face 900 does not exist"),
        (finish(pick={"patches": [-1]}), "patch -1"),
        (finish(pick={"walls": 1}), "a pick needs one of the keys"),
        (finish(pick={"any": [{"all": True}, {"not": {"faces": ["x"]}}]}), "faces"),
        (finish(projection={"kind": "box", "corner": "x"}), "corner: this key is not known"),
        (finish(datum={"x_axis": [0, 0, 1], "z_axis": [0, 0, 1]}), "must not run along"),
        (finish(scale=[0, 1]), "scale"),
        (finish(turn_deg="NaN"), "turn_deg"),
        (changed(materials={"brick": {"name": "b", "repeat_mm": [900, -600]}}), "repeat_mm"),
        (changed(materials={"brick": {"name": "b", "repeat_mm": [9, 6], "images": {"base_color": "no.png"}}}), "'no.png'"),
        (changed(materials={"brick": {"name": "b", "repeat_mm": [9, 6], "images": {"base_color": "../x.png"}}}), "leaves"),
        (changed(materials={"brick": {"name": "b", "repeat_mm": [9, 6], "images": {"base_color": "r.json"}}}), "not an image"),
    ],
)  # fmt: skip
def test_a_bad_recipe_is_one_line_and_exit_2(recipe, word, capsys, tmp_path):
    path = tmp_path / "r.json"
    path.write_text(recipe if isinstance(recipe, str) else json.dumps(recipe))
    status, out, err = run(capsys, "apply", path, WALL, "-o", tmp_path / "out.glb")
    assert (status, out) == (2, "")
    assert err.startswith(f"error: {path}: ") and err.count("\n") == 1
    assert word in err, err
    assert [p.name for p in tmp_path.iterdir()] == ["r.json"]


def test_places_that_cannot_be_read_or_written(capsys, tmp_path):
    for args, word in (
        (("apply", BRICK, tmp_path / "none.obj", "-o", tmp_path / "o.glb"), "no such file"),
        (("apply", BRICK, WALL, "-o", tmp_path / "gone" / "o.glb"), "cannot be written"),
        (("apply", BRICK, WALL, "-o", tmp_path / "o.fbx"), "cannot be written as '.fbx'"),
        (("inspect", tmp_path), "directory"),
        (("inspect", EXAMPLE / "brick.json"), "'.json'"),
    ):
        status, _, err = run(capsys, *args)
        assert status == 2 and word in err and err.count("\n") == 1


def test_the_checker_stands_in_for_missing_images(capsys, tmp_path):
    run(capsys, "apply", BRICK, WALL, "-o", tmp_path / "out.gltf")
    (image,) = tmp_path.glob("*.png")
    assert decode(Image(image.read_bytes())).shape[1::-1] == (768, 512)


def test_schema_is_published(capsys):
    status, out, _ = run(capsys, "schema")
    assert status == 0
    assert json.loads(out)["properties"]["recipe"]["const"] == 1
    assert json.loads(out)["additionalProperties"] is False


def test_the_installed_command_has_no_traceback(tmp_path):
    (tmp_path / "a.obj").write_bytes(b"f 1 2 3\n")
    command = Path(sys.executable).parent / "pivrel"
    done = subprocess.run(
        [command, "inspect", tmp_path / "a.obj"], capture_output=True, text=True, timeout=600
    )
    assert done.returncode == 2
    assert (
        done.stderr
        == f"error: {tmp_path / 'a.obj'}: line 1 refers to index 1, but the file has 0 points and 0 normals, counted from 1\n"
    )


ARM = 17


def test_inspect_lists_the_surfaces_of_a_step_file(capsys, tmp_path):
    path = tmp_path / "hook.step"
    path.write_bytes(bracket.step())
    status, out, _ = run(capsys, "inspect", path, "--json")
    facts = json.loads(out)
    assert status == 0 and facts["unit"] == "mm" and len(facts["surfaces"]) == facts["patches"] == 19
    round_ones = [s for s in facts["surfaces"] if s["kind"] == "cylinder"]
    # Four rounded edges, two bores, the arm and the stem, each with its true axis.
    assert sorted(round(s["radius_mm"], 9) for s in round_ones) == [2.6, 2.6, 6, 6, 6, 6, 7, 7]
    for s in round_ones:
        along = np.abs(s["axis"])
        assert np.abs(along - np.round(along)).max() < 1e-6 and along.sum() == pytest.approx(1, abs=1e-6)
        x, _, z = s["origin_mm"]
        if s["radius_mm"] == pytest.approx(2.6):
            assert min(abs(x - a) + abs(z - b) for a, b in bracket.BORES) < 1e-6
    status, out, _ = run(capsys, "inspect", path, "--tolerance", "0.5")
    assert status == 0 and "surfaces: 8 of kind cylinder" in out


def test_a_bore_is_laid_true_to_scale_from_the_command_line(capsys, tmp_path):
    (tmp_path / "hook.step").write_bytes(bracket.step())
    finish = {
        "name": "Arm",
        "material": "tile",
        "pick": {"every": [{"parts": ["*Hook"]}, {"patches": [ARM]}]},
        "projection": {"kind": "cylindrical"},
    }
    recipe = {
        "recipe": 1,
        "materials": {"tile": {"name": "Tile", "repeat_mm": [11, 11]}},
        "finishes": [finish],
    }
    (tmp_path / "arm.json").write_text(json.dumps(recipe))
    status, out, _ = run(capsys, "measure", tmp_path / "arm.json", tmp_path / "hook.step", "--json")
    told = json.loads(out)["finishes"][0]
    assert status == 0 and told["faces"] > 20
    assert told["least_stretch"] > 1 / 1.001 and told["greatest_stretch"] < 1.001
    assert told["pieces"][0]["residual_mm"] == 0
    assert told["pieces"][0]["projection"]["radius_mm"] == pytest.approx(bracket.ARM_RADIUS, abs=1e-6)


def test_revise_carries_a_recipe_over_and_apply_lays_it(capsys, tmp_path):
    for number in (1, 2):
        (tmp_path / f"lido-{number}.obj").write_bytes(lido_obj(number))
    finish = {
        "name": "Walls",
        "material": "brick",
        "pick": {"parts": ["Wall ?o*"]},
        "projection": {"kind": "box"},
    }
    bar = {**finish, "name": "Bar", "pick": {"parts": ["Counter top"]}}
    recipe = {
        "recipe": 1,
        "materials": {"brick": {"name": "Brick", "repeat_mm": [900, 600]}},
        "finishes": [finish, bar],
    }
    (tmp_path / "walls.json").write_text(json.dumps(recipe))
    told = ["--unit", "m", "--up", "z"]
    status, out, _ = run(
        capsys,
        "revise",
        tmp_path / "walls.json",
        tmp_path / "lido-1.obj",
        tmp_path / "lido-2.obj",
        "-o",
        tmp_path / "next.json",
        *told,
    )
    assert status == 0
    assert "kept: Bar top (was Counter top): " in out and "moved: Wall north: 50 faces" in out
    assert "new: Screen A board 21: 6 faces" in out
    status, out, _ = run(
        capsys, "apply", tmp_path / "next.json", tmp_path / "lido-2.obj", "-o", tmp_path / "out.glb", *told
    )
    assert status == 0 and "Bar: " in out and "covers nothing" not in out
    status, _, err = run(
        capsys,
        "revise",
        tmp_path / "walls.json",
        tmp_path / "lido-1.obj",
        tmp_path / "none.obj",
        "-o",
        tmp_path / "x.json",
    )
    assert status == 2 and err.startswith("error: ") and not (tmp_path / "x.json").exists()


def test_apply_resolves_and_settles_each_finish_once(tmp_path, capsys, monkeypatch):
    """Counted where the schedule itself reaches for them; an adjustment's own pick is no finish's."""
    from pivrel.core import schedule

    done = []

    def counted(name):
        own = getattr(schedule, name)

        def count(*given):
            done.append(name)
            return own(*given)

        monkeypatch.setattr(schedule, name, count)

    for name in ("resolve", "settle_pieces", "measure"):
        counted(name)
    every = EXAMPLE / "every.json"
    stated = json.loads(every.read_text())["finishes"]
    # Finishes on one pick share what it holds.
    picks, finishes = len({json.dumps(f["pick"]) for f in stated}), len(stated)
    status, _, _ = run(capsys, "apply", every, EXAMPLE / "wall.obj", "-o", tmp_path / "out.glb")
    assert status == 0
    assert {name: done.count(name) for name in ("resolve", "settle_pieces", "measure")} == {
        "resolve": picks,
        "settle_pieces": finishes,
        "measure": finishes,
    }


def test_bake_says_what_it_will_make_and_makes_it(capsys, tmp_path):
    out = tmp_path / "out.glb"
    wanted = ("bake", BRICK, WALL, "-o", out, "--px-per-m", 100, "--size", 512, "--all")
    status, told, err = run(capsys, *wanted, "--plan")
    assert (status, err) == (0, "") and not out.exists()
    assert told.splitlines()[0] == "to be baked: Walls, Top"
    assert "1 of 256 x 512 px" in told and "pieces at 100 px/m" in told and "within 2%" not in told
    status, _, err = run(capsys, *wanted)
    assert (status, err) == (0, "")
    status, again, _ = run(capsys, "inspect", out, "--json")
    facts = json.loads(again)
    assert np.allclose(facts["bounds_mm"], [[0, 0, 0], [2000, 225, 1000]], atol=1e-4)
    assert not list(tmp_path.glob(".pivrel-*"))


@pytest.mark.parametrize(("options", "told"), [
    (["--px-per-m", 100], "no finish needs a bake: each is held by images that repeat; name those to be baked nonetheless"),
    (["--px-per-m", 100, "--finish", "Roof"], "has no finish 'Roof'; it has Walls, Top"),
    (["--px-per-m", -5, "--all"], "-5 px/m cannot be baked; ask for 0.001 to 1,000,000"),
    (["--px-per-m", 1e5, "--all"], "and more; ask for"),
])  # fmt: skip
def test_bake_refuses_in_a_sentence(capsys, tmp_path, options, told):
    status, out, err = run(capsys, "bake", BRICK, WALL, "-o", tmp_path / "out.glb", *options)
    assert status == 2 and out == "" and told in err and err.count("\n") == 1
    assert not list(tmp_path.iterdir())
