"""Trials: which projection comes first, on the demo's own shapes."""

import json

import numpy as np
import pytest

from pivrel.cli.main import main
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import Parts
from pivrel.core.projection.fitting import BEST
from pivrel.core.sheet import Material
from pivrel.core.trials import ALIKE, fold_equal, trials
from pivrel.demo import lido
from pivrel.recipe import DatumModel, projection_model
from pivrel.recipe.projections import trial_candidates
from tests.formats.test_handover import bare_obj

TILE = Material("tile", (300.0, 300.0))

EXPECTED = {
    "Wall south": "box",
    "Column 1": "cylindrical",
    "Mooring ball": "spherical",
    "Vault outside": "cylindrical",
    "Boulder 1": "triplanar",
}


@pytest.fixture(scope="module")
def pavilion():
    return Surface(lido.build())


@pytest.mark.parametrize("part, kind", EXPECTED.items())
def test_the_expected_projection_comes_first(pavilion, part, kind):
    found = trials(pavilion, Finish("f", TILE, Parts((part,))), trial_candidates(), BEST)
    assert found[0].finish.projection.kind == kind
    # Of two that come out alike the simpler one goes first.
    ranks = [round((t.good - t.finish.projection.cost) / ALIKE) for t in found]
    assert ranks == sorted(ranks, reverse=True)
    kinds = {t.finish.projection.kind for t in found}
    assert kinds >= {"planar", "box", "cylindrical", "spherical", "triplanar", "roll"}
    assert all(t.why and (t.finish.datum is not None) == t.finish.projection.has_datum for t in found)


def test_figures_of_a_trial_are_those_of_measure(pavilion, tmp_path, capsys):
    """The same recipe through `pivrel measure`, on the model as written to a file."""
    (tmp_path / "lido.obj").write_bytes(bare_obj(pavilion))
    for part in EXPECTED:
        found = trials(pavilion, Finish("f", TILE, Parts((part,))), trial_candidates(), BEST)
        recipe = {
            "recipe": 1,
            "materials": {"tile": {"name": "tile", "repeat_mm": [300, 300]}},
            "finishes": [
                {"name": f"trial {at}", "material": "tile", "pick": {"parts": [part]},
                 "projection": projection_model(trial.finish.projection).model_dump(mode="json", by_alias=True),
                 **({"datum": DatumModel.of(trial.finish.datum).model_dump(mode="json")} if trial.finish.datum else {})}
                for at, trial in enumerate(found)
            ],
        }  # fmt: skip
        # Each alone: later rows would cover the earlier ones.
        for at, trial in enumerate(found[:3]):
            alone = {**recipe, "finishes": [recipe["finishes"][at]]}
            (tmp_path / "r.json").write_text(json.dumps(alone))
            assert main(["measure", str(tmp_path / "r.json"), str(tmp_path / "lido.obj"), "--unit", "mm", "--up", "z",
                         "--json"]) == 0  # fmt: skip
            (told,) = json.loads(capsys.readouterr().out)["finishes"]
            assert told["true_to_scale"] == pytest.approx(trial.figures.true_share, abs=2e-3)
            assert told["smeared_m2"] == pytest.approx(trial.figures.smeared_m2, abs=1e-3)
            assert told["mirrored_m2"] == pytest.approx(trial.figures.mirrored_m2, abs=1e-3)
            assert told["unmatched_seam_m"] == pytest.approx(trial.figures.seams_m, rel=0.01, abs=0.01)
            assert told["area_m2"] == pytest.approx(trial.figures.area_m2, rel=1e-6)


def test_a_small_pick_has_trials_too():
    from tests.shapes import mesh_of

    surface = Surface(mesh_of([(0, 0, 0), (900, 0, 0), (900, 0, 600), (0, 0, 600)], [(0, 1, 2, 3)]))
    found = trials(surface, Finish("f", TILE, Parts(("part",))), trial_candidates(), BEST)
    assert found[0].finish.projection.kind == "planar", "the simplest of those that come out alike"
    assert "all of it is true to scale" in found[0].why
    assert np.isfinite([t.good for t in found]).all()


def test_trials_that_come_out_the_same_are_folded_whatever_the_sheet_is_shifted_by():
    rng = np.random.default_rng(4)
    sheet = rng.uniform(0, 3000, (40, 2)).astype(np.float32)
    gap = sheet.copy()
    gap[3] = np.nan
    sheets = [sheet, sheet + np.float32(250), sheet * np.float32(1.001), gap, gap + np.float32(8)]
    assert fold_equal(sheets, [False] * 5) == [[0, 1], [2], [3, 4]]
    assert fold_equal(sheets[:2], [False, True]) == [[0], [1]]


def test_a_box_and_a_wrapped_box_come_out_alike_on_one_flat_wall():
    surface = Surface(lido.build())
    faces = np.flatnonzero(surface.mesh.face_part == surface.mesh.part_names.index("Water")).astype(np.int32)
    flat = trials(surface, Finish("trial", TILE, Parts(("Water",))), trial_candidates(), BEST)
    sheets = [lay(surface, t.finish, faces, settle(surface, t.finish, faces), np.float32) for t in flat]
    names = [
        [flat[at].finish.projection.kind for at in group]
        for group in fold_equal(sheets, [t.finish.projection.blends for t in flat])
    ]
    assert any(group.count("box") == 2 for group in names), names
