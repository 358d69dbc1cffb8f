"""The laid schedule: what is found once and kept, and room for layings that are solved."""

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np
import pytest

from pivrel.core.cache import BoundedCache, KeepAll
from pivrel.core.content_key import content_key
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Adjustment, Finish, lay, settle
from pivrel.core.picks import All, Faces, Patches
from pivrel.core.projection import Box, Cylindrical, Planar, Solved
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from pivrel.core.solve.solution import Solution
from tests.shapes import column, cuboid

OAK = Material("oak", (300.0, 200.0), 0.0)
SOLVED: list[int] = []


def corners(surface, faces):
    """(N, 3) the places of the corners of faces, face after face."""
    return surface.mesh.points[surface.mesh.corners[surface.corners_of(faces)]]


@dataclass(frozen=True)
class Unrolled(Solved):
    """A toy that is solved over its region: s is the place along x plus half of that along y, t the height."""

    lean: float = 0.5
    kind: ClassVar[str] = "unrolled"

    def solve(self, ground, repeat_mm, hasty=False):
        surface, faces = ground.surface, ground.faces
        SOLVED.append(len(faces))
        points = corners(surface, faces)
        st = np.column_stack([points[:, 0] + self.lean * points[:, 1], points[:, 2]])
        return Solution(faces, st, np.zeros(0, np.int32))


def schedule(finishes, cache=None, surface=None):
    return Schedule(surface or Surface(cuboid()), "mesh", finishes, cache or KeepAll())


def test_a_solved_laying_is_solved_once_whatever_its_placement():
    SOLVED.clear()
    surface, cache = Surface(cuboid(900, 700, 500)), KeepAll()
    finish = Finish("f", OAK, Faces((0, 2, 3)), Unrolled())
    for changed in (
        finish, replace(finish, turn_deg=30.0), replace(finish, offset_mm=(5.0, 6.0)), replace(finish, scale=(2.0, 2.0)),
        replace(finish, material=Material("other", (100.0, 100.0), 45.0)), replace(finish, name="renamed"),
    ):  # fmt: skip
        laid = schedule({"F1": changed, "F2": Finish("g", OAK, Faces((3,)))}, cache, surface)
        st = laid.laying("F1")
        # Laid on what later rows leave of its pick, out of a solution for all of it.
        assert laid.drawn("F1").tolist() == [0, 2] and len(st) == 8
        raw = laid.solution("F1").laid(surface, laid.drawn("F1"))
        points = corners(surface, laid.drawn("F1"))
        np.testing.assert_allclose(raw, np.column_stack([points[:, 0] + points[:, 1] / 2, points[:, 2]]))
        matrix = changed.placement.matrix
        np.testing.assert_allclose(st, raw @ matrix[:, :2].T + matrix[:, 2], rtol=1e-5, atol=1e-3)
        assert laid.figures("F1").faces == 2
    assert SOLVED == [3], "another place, turn, size or material is no other region"
    schedule({"F1": replace(finish, projection=Unrolled(0.25))}, cache, surface).laying("F1")
    schedule({"F1": replace(finish, pick=Faces((0,)))}, cache, surface).laying("F1")
    assert SOLVED == [3, 3, 1]


def test_a_solved_laying_takes_adjustments_like_any_other():
    surface = Surface(cuboid(900, 700, 500))
    finish = Finish("f", OAK, All(), Unrolled(), adjust=(Adjustment(Faces((2,)), 90.0),))
    laid = schedule({"F1": finish}, surface=surface)
    plain = schedule({"F1": replace(finish, adjust=())}, surface=surface).final("F1")
    turned, rows = laid.final("F1"), corner_rows(surface.mesh, laid.drawn("F1"))
    np.testing.assert_allclose(turned[: rows[2]], plain[: rows[2]])
    face = slice(rows[2], rows[3])
    # A quarter turn of the sheet: (s, t) becomes (t, -s).
    np.testing.assert_allclose(turned[face], np.column_stack([plain[face, 1], -plain[face, 0]]), atol=1e-9)


def test_a_preview_finds_nothing_anew_that_the_drag_leaves_as_it_is(monkeypatch):
    from pivrel.core import schedule as module

    done = []
    for name in ("resolve", "solve", "settle_pieces", "with_sheets"):
        own = getattr(module, name)
        monkeypatch.setattr(
            module, name, lambda *given, own=own, name=name: (done.append(name), own(*given))[1]
        )
    surface, cache = Surface(column(24, 200, 900)), KeepAll()
    one = Finish("one", OAK, All(), Cylindrical(), run_on=True)
    before = schedule({"F1": one, "F2": Finish("two", OAK, Faces((3,)), Box())}, cache, surface)
    before.laying("F1")
    done.clear()
    moved = before.with_finish("F1", replace(one, datum=Datum((1.0, 2.0, 3.0))))
    st = moved.laying("F1")
    assert done == ["settle_pieces", "with_sheets"], "neither its pick, nor its region, nor the other row"
    whole = settle(surface, moved.finishes["F1"])
    np.testing.assert_array_equal(
        st, lay(surface, moved.finishes["F1"], moved.drawn("F1"), whole, np.float32)
    )
    done.clear()
    assert before.with_finish("F1", moved.finishes["F1"]).laying("F1") is st and not done


def test_states_under_the_hand_do_not_crowd_out_what_is_kept():
    class Bounded:
        def __init__(self):
            self.kept = BoundedCache(1 << 20)

        def get(self, room, key, make, size, slot=None):
            return self.kept.get((room, key), make, size, slot)

    laid = schedule({"F1": Finish("one", OAK, All(), Planar())}, Bounded())
    first = laid.laying("F1")
    for step in range(20):
        laid.with_finish("F1", replace(laid.finishes["F1"], datum=Datum((float(step), 0.0, 0.0)))).laying(
            "F1"
        )
    assert laid.laying("F1") is first


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (Faces((1, 2)), Faces((12,))),
        (Faces((1,)), Patches((1,))),
        (("ab", "c"), ("a", "bc")),
        ((1,), (1.0,)),
        (b"1", "1"),
        ((), ((),)),
        (Planar(), Planar("unmirrored")),
    ],
)
def test_contents_that_differ_have_other_names(one, other):
    assert content_key(one) != content_key(other)
    assert content_key(one) == content_key(one)
