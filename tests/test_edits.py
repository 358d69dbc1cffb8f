"""Edits as pure functions: what they change, what they leave alone, what they say."""

import copy
import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from pivrel.core.geometry.surface import Surface
from pivrel.project.computing import Computing
from pivrel.project.edits.base import Before, EditError
from pivrel.project.edits.registry import AnyEdit
from pivrel.project.laid import LaidProject
from pivrel.recipe import DatumModel
from pivrel.store.documents import Contents, Document, LibraryBody
from pivrel.store.journal import changes_between, side_of, stated
from tests.edits import edits_of
from tests.shapes import cuboid

LIBRARY = {
    key: Document(
        key, at, LibraryBody(name=name, repeat_mm=repeat, grain_deg=grain, metallic=0, use="wall", images={})
    )
    for at, (key, name, repeat, grain) in enumerate(
        [
            ("brick", "Red brick, stretcher bond", (900, 600), 0),
            ("walnut", "Walnut", (600, 1200), 90),
            ("ash", "Ash", (600, 1200), 30),
            ("slate", "Slate", (500, 500), 50),
        ]
    )
}
BOX = {"kind": "box", "corners": "separate"}
PLANAR = {"kind": "planar", "backs": "through"}
SURFACE = Surface(cuboid())
EDIT = TypeAdapter(AnyEdit)


class Told(Before):
    """A project whose fits tell which projection they were made for."""

    def fitted(self, stated, aim=None):
        return DatumModel(
            origin_mm=(1, 2, 3),
            x_axis=(1, 0, 0),
            z_axis=(0, -1, 0) if stated.projection.kind == "planar" else (0, 0, 1),
        )


def done(contents, **edit):
    """The contents after an edit, as a request states it, and its label."""
    laid = LaidProject("mesh", SURFACE, contents, Computing())
    no_project: Any = None
    found = EDIT.validate_python(edit).done(Told(no_project, laid, lambda: LIBRARY, dict))
    return found.contents, found.label


def lay(contents, material, pick, projection):
    return done(contents, kind="lay", material=material, pick=pick, projection=projection)


def laid(*materials):
    contents = Contents()
    for material in materials or ("brick",):
        contents, _ = lay(contents, material, {"all": True}, BOX)
    return contents


def change(contents, changes, keys=("F1",)):
    for edit in edits_of(keys, **changes):
        contents, label = done(contents, **edit)
    return contents, label


def body(contents, key="F1"):
    return contents.finishes[key].fields


def test_lay_names_numbers_and_fits():
    contents, label = lay(laid(), "brick", {"faces": [3]}, PLANAR)
    assert label == "lay Red brick 2"
    assert list(contents.finishes) == ["F1", "F2"]
    assert [d.position for d in contents.finishes.values()] == [1, 2]
    assert body(contents, "F2")["datum"]["z_axis"] == [0, -1, 0]
    assert "use" not in contents.materials["brick"].fields, (
        "a project's copy says nothing of the library's shelves"
    )


def test_a_code_is_not_given_twice_while_it_is_in_use():
    contents, _ = done(laid("brick", "brick", "brick"), kind="remove", finishes=["F2"])
    contents, _ = lay(contents, "brick", {"all": True}, BOX)
    assert list(contents.finishes) == ["F1", "F3", "F4"]


def test_an_unknown_material_or_finish_is_said():
    with pytest.raises(EditError, match="no material 'jelly'"):
        lay(Contents(), "jelly", {"all": True}, BOX)
    for act in (
        lambda: change(laid(), {"turn_by": 1}, ["F7"]),
        lambda: done(laid(), kind="remove", finishes=["F7"]),
        lambda: done(laid(), kind="move", finish="F7", to=0),
    ):
        with pytest.raises(EditError, match="no finish F7"):
            act()
    with pytest.raises(EditError, match="does not use the material 'walnut'"):
        done(laid(), kind="change_material", material="walnut", grain_deg=1)


def test_nothing_that_was_given_is_changed():
    before = laid("brick", "walnut")
    kept = copy.deepcopy((before.finishes, before.materials))
    change(before, {"turn_by": 90, "repeat_mm": [1, None], "offset_mm": [5, 6]}, ["F1", "F2"])
    done(before, kind="change_material", material="brick", repeat_mm=[1, 2])
    done(before, kind="move", finish="F1", to=1)
    done(before, kind="remove", finishes=["F1"])
    assert (before.finishes, before.materials) == kept


def test_turn_and_grain_replace_each_other():
    contents, label = change(laid("walnut"), {"grain_deg": 30})
    assert label == "grain of Walnut"
    assert (body(contents)["turn_deg"], body(contents)["grain_deg"]) == (None, 30)
    contents, _ = change(contents, {"turn_by": 200})
    assert body(contents)["grain_deg"] == 50, "grain has no sense, so half a turn is none"
    contents, _ = change(contents, {"turn_deg": 10})
    contents, _ = change(contents, {"turn_by": -90})
    assert (body(contents)["turn_deg"], body(contents)["grain_deg"]) == (280, None)


@given(st.integers(-12, 12))
def test_turning_comes_round(quarters):
    contents = laid()
    for _ in range(4):
        contents, _ = change(contents, {"turn_by": 90 * quarters})
    assert body(contents)["turn_deg"] == 0


def test_repeat_by_scale_linked_or_not():
    contents, label = change(laid(), {"repeat_mm": [450, None]})
    assert (body(contents)["scale"], label) == ([0.5, 0.5], "repeat of Red brick")
    contents, _ = change(contents, {"repeat_mm": [None, 600], "linked": True})
    assert body(contents)["scale"] == [1, 1]
    contents, _ = change(contents, {"repeat_mm": [None, 300], "linked": False})
    assert body(contents)["scale"] == [1, 0.5]
    contents, _ = change(contents, {"scale": [None, 2]})
    assert body(contents)["scale"] == [1, 2]


def test_another_material_keeps_the_scale_and_comes_into_the_project():
    contents, _ = change(laid(), {"scale": [2, 2]})
    contents, _ = change(contents, {"material": "walnut"})
    assert body(contents)["scale"] == [2, 2]
    assert set(contents.materials) == {"brick", "walnut"}, "the one that was is kept, for undo and for later"


@pytest.mark.parametrize(
    ("one", "other"), [("ash", "slate"), ("slate", "ash"), ("ash", "walnut"), ("brick", "ash")]
)
def test_another_material_keeps_the_way_its_grain_runs(one, other):
    """The grain runs at the turn and the material's own angle together; that sum stays, whole turns apart."""

    def way(contents):
        stated = body(contents)
        return stated["turn_deg"] + LIBRARY[stated["material"]].body.grain_deg

    before, _ = change(laid(one), {"turn_deg": 10})
    after, _ = change(before, {"material": other})
    assert body(after)["material"] == other
    assert (way(after) - way(before)) % 360 == 0
    again, _ = change(after, {"material": one})
    assert body(again)["turn_deg"] == 10


def test_the_datum_is_fitted_anew_only_when_it_must_be():
    moved = {"origin_mm": [9, 9, 9], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}
    contents, _ = change(laid(), {"datum": moved})
    contents, _ = change(contents, {"projection": BOX})
    assert body(contents)["datum"] == moved, "the same kind of projection stays where it was put"
    contents, _ = change(contents, {"projection": PLANAR})
    assert body(contents)["datum"]["z_axis"] == [0, -1, 0]
    contents, _ = change(contents, {"projection": {"kind": "planar", "backs": "unmirrored"}})
    contents, _ = change(contents, {"fit": {"to": "pick"}})
    assert body(contents)["datum"]["origin_mm"] == [1, 2, 3]


@pytest.mark.parametrize(
    "wrong",
    [
        {"scale": [0, 1]},
        {"name": ""},
        {"projection": {"kind": "cone"}},
        {"datum": {"z_axis": [0, 0, 0]}},
        {"pick": {"part": "x"}},
    ],
)
def test_what_the_recipe_forbids_no_edit_can_make(wrong):
    with pytest.raises((ValidationError, KeyError)):
        change(laid(), wrong)


def test_moving_rows():
    contents = laid("brick", "brick", "brick")
    for to, order in (
        (0, ["F3", "F1", "F2"]),
        (1, ["F1", "F3", "F2"]),
        (99, ["F1", "F2", "F3"]),
        (-5, ["F3", "F1", "F2"]),
    ):
        moved, label = done(contents, kind="move", finish="F3", to=to)
        assert list(moved.finishes) == order
        assert [d.position for d in moved.finishes.values()] == [1, 2, 3]
    assert label == "move Red brick 3"


def test_a_material_is_resized_for_all_that_use_it():
    contents, label = done(laid(), kind="change_material", material="brick", repeat_mm=[450, None])
    assert (contents.materials["brick"].fields["repeat_mm"], label) == (
        [450, 300],
        "repeat of Red brick, stretcher bond",
    )
    contents, _ = done(
        contents,
        kind="change_material",
        material="brick",
        repeat_mm=[450, None],
        linked=False,
        grain_deg=200,
        name="Blue brick",
    )
    assert contents.materials["brick"].fields["repeat_mm"] == [450, 300]
    assert contents.materials["brick"].fields["grain_deg"] == 20
    assert contents.materials["brick"].fields["name"] == "Blue brick"
    with pytest.raises(EditError, match="above zero"):
        done(contents, kind="change_material", material="brick", repeat_mm=[1e-9, None])


def test_each_side_of_a_change_is_found_again_from_the_other():
    before = laid("brick")
    after, _ = change(before, {"turn_by": 90})
    after, _ = lay(after, "walnut", {"faces": [1]}, BOX)
    changes = changes_between(before, after)
    assert {(c.kind, c.key) for c in changes} == {("finish", "F1"), ("finish", "F2"), ("material", "walnut")}
    for c in changes:
        row = json.loads(json.dumps(stated(c)))
        assert side_of(row, "before", c.after) == c.before and side_of(row, "after", c.before) == c.after
    turned = next(stated(c) for c in changes if c.key == "F1")
    assert "pick" not in turned["before"]["body"], "the journal keeps what changed, and no more"
    assert changes_between(after, after) == []
