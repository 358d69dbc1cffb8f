"""The command line, run as a user runs it."""

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from pivrel.cli import main
from pivrel.materials.images import Image, decode
from tests.formats.bad import BAD
from tests.samples import compas_sample

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


def test_inspect_json(capsys):
    status, out, _ = run(capsys, "inspect", WALL, "--json", "--unit", "ft", "--up", "z")
    facts = json.loads(out)
    assert status == 0
    assert (facts["faces"], facts["triangles"], facts["patches"]) == (6, 12, 6)
    assert facts["parts"] == [{"name": "Wall", "faces": 6}]
    assert facts["bounds_mm"][1] == pytest.approx([609.6, 304.8, 0])
    assert facts["guessed"] is False and facts["found"] == []
    status, out, _ = run(capsys, "inspect", compas_sample("boxes.obj"))
    assert "parts: 8" in out and "edges of more than two faces" in out


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
