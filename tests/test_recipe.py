"""The recipe: what it takes, what it refuses, and that whatever it takes is laid without a NaN."""

import contextlib
import json
from pathlib import Path

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import cover, settle
from pivrel.core.measure.figures import measure
from pivrel.core.picks import PickError, resolve
from pivrel.core.projection import Planar
from pivrel.core.revision import Motion
from pivrel.formats.convention import Convention
from pivrel.formats.laid import Look
from pivrel.recipe import PickModel, RecipeError, RecipeModel, pick_model, read_recipe, recipe_schema
from pivrel.recipe.projections import PROJECTIONS
from pivrel.recipe.typed import Angle, Length, Share, Side
from tests.laying import handed_over, laid_model
from tests.shapes import column, cuboid, mesh_of, prism_45, strips

DOCS = Path(__file__).parents[1] / "docs"

finite = st.floats(-1e5, 1e5, allow_nan=False)
axis = st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1))
picks = st.recursive(
    st.one_of(
        st.just({"all": True}),
        st.lists(st.sampled_from(["part", "p*", "[!x]*", "?"]), max_size=2).map(lambda g: {"parts": g}),
        st.lists(st.integers(0, 8), max_size=3).map(lambda i: {"faces": i}),
        st.lists(st.integers(0, 3), max_size=2).map(lambda i: {"patches": i}),
        st.builds(lambda d, a: {"facing": list(d), "within_deg": a}, axis, st.floats(0, 180)),
    ),
    lambda inner: st.one_of(
        st.lists(inner, max_size=2).map(lambda p: {"any": p}),
        st.lists(inner, max_size=2).map(lambda p: {"every": p}),
        inner.map(lambda p: {"not": p}),
    ),
    max_leaves=4,
)
sizes = st.none() | st.floats(1e-3, 1e6)
own = st.none() | st.sampled_from(["m", "n"])


def kind(name, **optional):
    return st.fixed_dictionaries({"kind": st.just(name)}, optional=optional)


projections = st.one_of(
    kind("planar", backs=st.sampled_from(["through", "unmirrored"])),
    kind(
        "box",
        corners=st.sampled_from(["separate", "wrapped"]),
        size_mm=st.none() | st.tuples(*[st.floats(1e-3, 1e6)] * 3),
    ),
    kind(
        "cylindrical",
        radius_mm=sizes,
        caps=st.booleans(),
        cap_angle_deg=st.floats(0, 90),
        whole_repeats=st.booleans(),
    ),
    kind("spherical", radius_mm=sizes),
    kind(
        "triplanar",
        blend=st.floats(0, 1),
        backs=st.sampled_from(["unmirrored", "mirrored"]),
        materials=st.fixed_dictionaries({}, optional={"x": own, "y": own, "z": own}),
    ),
)
factors = st.floats(1e-3, 1e3) | st.floats(-1e3, -1e-3)
finishes = st.fixed_dictionaries(
    {
        "name": st.text("abc /\\:", min_size=1, max_size=5),
        "material": st.just("m"),
        "pick": picks,
        "projection": projections,
    },
    optional={
        "datum": st.fixed_dictionaries(
            {}, optional={"origin_mm": st.tuples(finite, finite, finite), "x_axis": axis, "z_axis": axis}
        ),
        "turn_deg": finite,
        "grain_deg": finite,
        "offset_mm": st.tuples(finite, finite),
        "scale": st.tuples(factors, factors),
        "tile": st.booleans(),
        "datum_for": st.sampled_from(["pick", "part", "board"]),
        "grain": st.sampled_from([{"along": a} for a in ("sheet", "edge", "length", "level", "plumb")])
        | st.builds(lambda d: {"along": "direction", "direction": d}, axis),
        "adjust": st.lists(
            st.fixed_dictionaries(
                {"pick": picks},
                optional={
                    "turn_deg": finite,
                    "offset_mm": st.tuples(finite, finite),
                    "mirrored": st.booleans(),
                },
            ),
            max_size=2,
        ),
        "run_on": st.booleans(),
        "variation": st.fixed_dictionaries(
            {},
            optional={
                "by": st.sampled_from(["part", "board", "patch", "face"]),
                "seed": st.integers(-9, 9),
                "half_turns": st.booleans(),
                "mirrors": st.booleans(),
            },
        ),
    },
)
recipes = st.builds(
    lambda repeat, grain, rows: {
        "recipe": 1,
        "materials": {
            "m": {
                "name": "m",
                "repeat_mm": repeat,
                "grain_deg": grain,
                "half_turns": True,
                "joints": {"unit_mm": [225, None], "bond": 0.5},
            },
            "n": {"name": "n", "repeat_mm": [700, 300], "grain_deg": 15},
        },
        "finishes": rows,
    },
    st.tuples(st.floats(0.1, 1e4), st.floats(0.1, 1e4)),
    finite,
    st.lists(finishes, max_size=4),
)
DEGENERATE = mesh_of(
    [(0, 0, 0), (1, 0, 0), (2, 0, 0), (0, 5, 0), (0, 5, 1e-9), (7, 7, 7)],
    [(0, 1, 2), (0, 1, 3), (3, 4, 3), (5, 5, 5), (0, 2, 4, 3)],
)
BALL = trimesh.creation.icosphere(subdivisions=1, radius=800)
MESHES = [
    cuboid(),
    strips(12),
    prism_45(),
    DEGENERATE,
    column(8),
    mesh_of(BALL.vertices, BALL.faces, ("part", "other"), [0] * 50 + [1] * 30),
]


@settings(max_examples=120, deadline=None)
@given(recipes, st.sampled_from(MESHES))
def test_any_recipe_is_laid_or_refused_but_never_gives_nan(recipe, mesh):
    try:
        read = read_recipe(json.dumps(recipe))
    except RecipeError as error:
        assert str(error) and "\n" not in str(error)
        return
    surface = Surface(mesh)
    try:
        finishes = read.to_core()
        model = laid_model(surface, finishes, [(Look(), Look(), Look())] * len(finishes))
        # Of a finish that later ones cover nothing is laid, but its adjustments may name what is not there.
        settled = [settle(surface, finish) for finish in finishes]
    except PickError as error:
        assert "does not exist" in str(error) or "zero" in str(error)
        return
    written = model.surface.mesh
    covered = np.repeat(model.face_finish >= 0, np.diff(written.face_start))
    assert np.isfinite(model.st[covered]).all()
    assert np.isnan(model.st[~covered]).all()
    assert model.surface.area_m2 == pytest.approx(surface.area_m2, rel=1e-6), "cutting loses nothing"
    face_finish = cover(surface, [f.pick for f in finishes])
    for row, finish in enumerate(finishes):
        faces = np.flatnonzero(face_finish == row).astype(np.int32)
        figures = measure(surface, finish, faces, settled[row])
        numbers = [v for v in vars(figures).values() if isinstance(v, float)]
        assert np.isfinite(numbers).all() and min(numbers) >= 0
        assert np.isfinite(figures.closings).all()
        assert 0 <= figures.true_share <= 1 + 1e-9
    text = handed_over(model, ".obj", "m", Convention())["m.obj"].decode()
    assert "nan" not in text and "inf" not in text


@settings(max_examples=100, deadline=None)
@given(picks)
def test_a_pick_is_the_same_there_and_back(pick):
    adapter = TypeAdapter(PickModel)
    try:
        core = adapter.validate_python(pick).to_core()
    except ValueError:
        assert "facing" in json.dumps(pick), "only a direction of zero is refused here"
        return
    again = adapter.validate_python(pick_model(core).model_dump(mode="json", by_alias=True)).to_core()
    assert again == core
    surface = Surface(strips(12))
    with contextlib.suppress(PickError):
        assert (resolve(core, surface) == resolve(again, surface)).all()


def test_defaults_are_the_contracts():
    read = read_recipe(
        '{"recipe": 1, "materials": {"m": {"name": "m", "repeat_mm": [9, 6]}}, "finishes": '
        '[{"name": "f", "material": "m", "pick": {"all": true}, "projection": {"kind": "planar"}}]}'
    )
    (finish,) = read.to_core()
    assert (finish.placement.turn_deg, finish.offset_mm, finish.scale, finish.datum) == (
        0,
        (0, 0),
        (1, 1),
        None,
    )
    assert finish.projection == Planar("through")
    assert read.materials["m"].grain_deg == 0


@pytest.mark.parametrize(
    "text", ["", "nul", '{"recipe": 1', '{"recipe": NaN}', "[" * 5000, "\x00", '"recipe"']
)
def test_text_that_is_no_recipe(text):
    with pytest.raises(RecipeError) as error:
        read_recipe(text)
    assert len(str(error.value)) < 200


def test_the_published_schema_is_the_codes_own():
    """What a recipe may say, within which limits, and what is taken where it does not: changed on purpose or not at all.

    `make types` writes it anew.
    """
    assert json.loads((DOCS / "recipe.schema.json").read_text()) == recipe_schema()


def _measures(stated, at=""):
    """Every length in mm that something states: (where, value)."""
    for name, value in stated.items() if isinstance(stated, dict) else enumerate(stated):
        here = f"{at}/{name}"
        if isinstance(value, dict | list | tuple):
            yield from _measures(value, here)
        elif "_mm" in here and isinstance(value, int | float):
            yield here, value


@pytest.mark.parametrize(
    "stated",
    [
        {"kind": "box", "corners": "wrapped", "size_mm": [300, 200, 100]},
        {"kind": "cylindrical", "radius_mm": 40},
        {"kind": "spherical", "radius_mm": 40},
    ],
    ids=lambda stated: stated["kind"],
)
def test_what_is_laid_round_a_measure_grows_with_the_model(stated):
    """A model in inches that was read as millimetres is 25.4 times as large: so is all that was measured on it."""
    projection = PROJECTIONS[stated["kind"]].model_validate(stated)
    moved = projection.moved(Motion(scale=25.4, shift=np.array([1.0, 2, 3])))
    before, after = (dict(_measures(p.model_dump(by_alias=True))) for p in (projection, moved))
    assert before and after == {where: pytest.approx(25.4 * value) for where, value in before.items()}
    bare = PROJECTIONS[stated["kind"]].model_validate({"kind": stated["kind"]})
    assert bare.moved(Motion(scale=25.4)) == bare, "what is measured is measured anew"


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity"])
@pytest.mark.parametrize("field", ["turn_deg", "offset_mm", "scale", "repeat_mm", "grain_deg", "radius_mm"])
def test_a_number_that_is_not_finite_is_refused_where_it_stands(field, number):
    """Python reads them from JSON, which has no such numbers (RFC 8259, section 6)."""
    fields: dict[str, float | list[float]] = {
        "turn_deg": 0, "offset_mm": [0, 0], "scale": [1, 1], "repeat_mm": [9, 6], "grain_deg": 0, "radius_mm": 5,
    }  # fmt: skip

    def text() -> str:
        of_material, of_finish = ("repeat_mm", "grain_deg"), ("turn_deg", "offset_mm", "scale")
        round_ = {"kind": "spherical", "radius_mm": fields["radius_mm"]}
        finish = {"name": "f", "material": "m", "pick": {"all": True}, "projection": round_}
        return json.dumps({
            "recipe": 1,
            "materials": {"m": {"name": "m", **{name: fields[name] for name in of_material}}},
            "finishes": [{**finish, **{name: fields[name] for name in of_finish}}],
        })  # fmt: skip

    assert read_recipe(text())
    was = fields[field]
    fields[field] = [float(number), was[1]] if isinstance(was, list) else float(number)
    assert number in text()
    with pytest.raises(RecipeError, match=field):
        read_recipe(text())


def test_the_schema_names_every_kind_of_pick_and_projection():
    text = json.dumps(recipe_schema())
    for word in (
        "all",
        "parts",
        "faces",
        "patches",
        "facing",
        "within_deg",
        "any",
        "every",
        "not",
        "planar",
        "box",
        "unmirrored",
        "wrapped",
        "cylindrical",
        "cap_angle_deg",
        "whole_repeats",
        "spherical",
        "triplanar",
        "blend",
        "tile",
        "joints",
        "grain",
        "adjust",
        "run_on",
        "variation",
        "normal_y",
    ):
        assert f'"{word}"' in text
    example = recipe_schema()["$defs"]["FinishModel"]
    assert set(example["required"]) == {"name", "material", "pick", "projection"}
    assert RecipeModel.model_json_schema()["additionalProperties"] is False


@pytest.mark.parametrize(
    ("kind", "least", "most"),
    [(Length, -1e11, 1e11), (Angle, -36000, 36000), (Share, -1e6, 1e6), (Side, None, 1e7)],
    ids=["length", "angle", "share", "side"],
)
def test_what_is_typed_stays_within_what_a_field_can_mean(kind, least, most):
    """A hundred turns, ten kilometres of a repeat, and a place as far out as a model may reach."""
    taken = TypeAdapter(kind).validate_python
    for limit in (least, most):
        if limit is not None:
            assert taken(limit) == limit
            with pytest.raises(ValidationError, match=r"(less|greater) than or equal"):
                taken(limit + np.sign(limit) * 0.5)
    if least is None:
        with pytest.raises(ValidationError, match="greater than 0"):
            taken(0)
