"""Sequences of set-out steps through the web: after each, what the page promises is true, or it says what was given up.

Joints, cuts and counts are read by brute force off the laying that the view is sent, by the definition of
joints alone; lengths are those of the tape.
"""

import math
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.web.app import create_app
from tests.conftest import Asking, facts_of
from tests.edits import one_edit
from tests.lengths import at_length
from tests.shapes import column, cuboid, mesh_of

LEVEL, EQUAL, ON = 0.01, 0.1, 0.05

MATERIALS = {
    "tile": ((600.0, 600.0), {"unit_mm": [150.0, 150.0], "width_mm": 3.0, "at_mm": [0.0, 0.0], "bond": 0.0}),
    "slab": ((800.0, 540.0), {"unit_mm": [400.0, 90.0], "width_mm": 5.0, "at_mm": [37.0, 11.0], "bond": 0.0}),
    "brick": ((900.0, 600.0), {"unit_mm": [225.0, 75.0], "width_mm": 10.0, "at_mm": [5.0, 5.0], "bond": 0.5}),
}


def room(x, y, z):
    """A cuboid that looks inward."""
    box = cuboid(x, y, z)
    return mesh_of(
        box.points, [box.corners[a:b][::-1] for a, b in zip(box.face_start, box.face_start[1:], strict=False)]
    )


MODELS = {
    "box": cuboid(1230.0, 870.0, 540.0),
    "room": room(3210.0, 2345.0, 2400.0),
    "plinth of four": cuboid(2040.0, 1490.0, 540.0),
    "plinth of six": column(6, 900.0, 455.0),
}


class Side:
    """A flat side as the laying has it: where joints run, by their definition."""

    def __init__(self, mesh, face, st_of, repeat, joints):
        start, end = mesh.face_start[face : face + 2]
        self.points, self.sheet = mesh.points[mesh.corners[start:end]], st_of[start:end].astype(float)
        a, b, c = self.points[:3]
        normal = np.cross(b - a, c - a)
        self.normal = normal / np.linalg.norm(normal)
        self.stands = abs(self.normal[2]) < math.sqrt(0.5)
        self.unit = np.array(joints["unit_mm"])
        self.at, self.bond, self.joint = np.array(joints["at_mm"]), joints["bond"], joints["width_mm"]
        self.low, self.high = self.sheet.min(axis=0), self.sheet.max(axis=0)

    def plumb(self):
        """(which way of the sheet runs straight up, mm of sheet a mm of height, value at z = 0), or None."""
        if not self.stands:
            return None
        level = np.cross([0, 0, 1.0], self.normal)
        frame = np.column_stack(
            [(self.points - self.points[0]) @ level, self.points[:, 2], np.ones(len(self.points))]
        )
        maps = np.linalg.lstsq(frame, self.sheet, rcond=None)[0]
        for way in (1, 0):
            # What the view is sent has the figures of float32.
            if abs(maps[0, way]) < 1e-5 and abs(maps[1, way]) > 1e-4 and not (way == 0 and self.bond):
                return way, maps[1, way], maps[2, way]
        return None

    def heights(self):
        """The heights of its level joints over a span that all sides share."""
        way, slope, zero = self.plumb()
        pitch = self.unit[way] / abs(slope)
        first = ((self.at[way] - zero) / slope) % pitch
        return first + pitch * np.arange(1 + int(3000 // pitch)), pitch

    def row(self, way):
        """(first cut, last cut, whole units) by counting every joint that falls on the side."""
        shift = 0.0
        low, high = self.low[way], self.high[way]
        if way == 0 and self.bond:
            course = min(k for k in range(-4000, 4000) if self.at[1] + k * self.unit[1] >= self.low[1] - 1e-3)
            shift = self.bond * self.unit[0] * course
        places = [self.at[way] + shift + k * self.unit[way] for k in range(-4000, 4000)]
        inside = [p for p in places if low - 1e-3 <= p <= high + 1e-3]
        if not inside:
            return high - low, high - low, -1
        cuts = (inside[0] - low, high - inside[-1])
        if max(cuts) <= 1e-3:
            return self.unit[way] - self.joint, self.unit[way] - self.joint, len(inside) - 1
        told = [self.unit[way] - self.joint if cut <= 1e-3 else cut - self.joint / 2 for cut in cuts]
        return told[0], told[1], len(inside) - 1

    def equal(self):
        rows = [self.row(way) for way in (0, 1)]
        return all(whole < 0 or abs(first - last) <= EQUAL for first, last, whole in rows)

    def on_joints(self, place):
        """Whether joints cross at a corner of the side."""
        at = self.sheet[np.argmin(np.linalg.norm(self.points - place, axis=1))]
        course = round((at[1] - self.at[1]) / self.unit[1])
        off = at - self.at - (self.bond * self.unit[0] * course, 0)
        return bool((np.abs(off - self.unit * np.round(off / self.unit)) <= ON).all())


def level(sides):
    """Whether the level joints of all standing sides lie at the same heights."""
    standing = [s for s in sides if s.plumb() is not None]
    if len(standing) < 2:
        return None
    first, pitch = standing[0].heights()
    for other in standing[1:]:
        heights, own = other.heights()
        if abs(own - pitch) > 1e-3:
            return False
        gap = heights[0] - first[0]
        if abs(gap - pitch * round(gap / pitch)) > LEVEL:
            return False
    return True


class Work:
    """One model with one finish all over it, worked on through the web."""

    def __init__(self, folder, name, material):
        database = Database(folder)
        self.mesh = MODELS[name]
        self.repeat, self.joints = MATERIALS[material]
        with database.transaction() as db:
            body = {
                "name": material,
                "repeat_mm": list(self.repeat),
                "grain_deg": 0.0,
                "metallic": 0.0,
                "use": "x",
                "images": {},
                "joints": self.joints,
            }
            projects.put_library(db, material, 0, LibraryBody.model_validate(body))
            facts = facts_of("m.obj", parts=1, triangles=12)
            project = projects.create(db, name, blobs.put_mesh(db, self.mesh), facts)
        self.asking = Asking(create_app(database).test_client(), project)
        self.asking.lay({"all": True}, material=material)
        self.said = ""

    def edit(self, **edit):
        self.said = self.asking.edit(**edit).get("said") or ""

    def change(self, finishes, **what):
        self.edit(**one_edit(finishes, **what))

    @property
    def finish(self):
        return self.asking.state["finishes"][0]

    def sides(self):
        st_of = self.asking.st("F1").astype(float)
        return [Side(self.mesh, f, st_of, self.repeat, self.joints) for f in range(self.mesh.face_count)]

    def corner(self, face, number):
        start, end = self.mesh.face_start[face : face + 2]
        return self.mesh.points[self.mesh.corners[start + number % (end - start)]]


STEP = st.one_of(
    st.tuples(st.just("corner"), st.integers(0, 7), st.integers(0, 5)),
    st.tuples(st.just("edge"), st.integers(0, 7), st.integers(0, 5)),
    st.tuples(st.just("balance"), st.just(0), st.just(0)),
    st.tuples(st.just("turn"), st.sampled_from([90, -90]), st.just(0)),
    st.tuples(st.just("run on"), st.sampled_from([True, False]), st.just(0)),
    st.tuples(st.just("turn a face"), st.integers(0, 7), st.just(0)),
    st.tuples(st.just("repeat"), st.sampled_from([300.0, 450.0, 613.0]), st.just(0)),
)


def take(work, step):
    """Takes a step, and checks what it promises of itself."""
    what, a, b = step
    count = work.mesh.face_count
    if what == "corner":
        face, place = a % count, work.corner(a % count, b)
        work.edit(kind="set_out", face=face, place=place.tolist(), at="corner", what="joint")
        for f, side in enumerate(work.sides()):
            meets = np.linalg.norm(side.points - place, axis=1).min() < 1e-6
            if meets and (f == face or not work.finish["run_on"]):
                assert side.on_joints(place), "a joint on the corner, on every side that meets there"
    elif what == "edge":
        face = a % count
        p, q = work.corner(face, b), work.corner(face, b + 1)
        work.edit(kind="set_out", face=face, place=((p + q) / 2).tolist(), at="edge", what="centre")
        side = work.sides()[face]
        ends = [side.sheet[np.argmin(np.linalg.norm(side.points - end, axis=1))] for end in (p, q)]
        run = np.abs(ends[1] - ends[0])
        way = 1 if run[0] >= run[1] else 0
        off = (ends[0] + ends[1])[way] / 2 - side.at[way] - side.unit[way] / 2
        if way == 0 and side.bond:
            course = round(((ends[0] + ends[1])[1] / 2 - side.at[1] - side.unit[1] / 2) / side.unit[1])
            off -= side.bond * side.unit[0] * course
        assert abs(off - side.unit[way] * round(off / side.unit[way])) <= ON, (
            "the middle of a unit on the edge"
        )
    elif what == "balance":
        work.edit(kind="balance", finish="F1")
        check_balance(work)
    elif what == "turn":
        work.change(["F1"], turn_by=a)
    elif what == "run on":
        work.change(["F1"], run_on=a)
    elif what == "turn a face":
        work.edit(kind="turn_pick", finish="F1", pick={"faces": [a % count]}, turn_by=90)
    else:
        work.change(["F1"], repeat_mm=[a, None])


ROW = re.compile(
    r"(?:(?P<piece>one piece of (?P<p>[\d.]+) mm)|cuts of (?P<a>[\d.]+) and (?P<b>[\d.]+) mm, (?P<n>\d+) whole between"
    r"|cuts of (?P<c>[\d.]+) mm at both ends, (?P<m>\d+) whole between|(?P<whole>\d+) whole)"
)


def rows_told(words):
    """(first, last, whole) as the page words a row, None where it tells whole units alone."""
    found = ROW.search(words)
    assert found, words
    if found["piece"]:
        return float(found["p"]), float(found["p"]), -1
    if found["a"]:
        return float(found["a"]), float(found["b"]), int(found["n"])
    if found["c"]:
        return float(found["c"]), float(found["c"]), int(found["m"])
    return None, None, int(found["whole"])


def check_balance(work):
    sides = work.sides()
    scale = [abs(k) for k in work.finish["scale"]]
    body = work.said.split("mm: ", 1)[1] if "mm: " in work.said else work.said.split("course): ", 1)[1]
    body = re.split(r"\. So that|\. The pattern|\. Given up| … and", body)[0]
    told = [
        [rows_told(part) for part in re.split(r" along, ", entry, maxsplit=1)] for entry in body.split("; ")
    ]
    brute = [[tuple(s.row(way)) for way in (0, 1)] for s in sides]

    def agrees(row, own, k):
        first, last, whole = row
        if whole != own[2]:
            return False
        return first is None or (
            abs(first - own[0] * scale[k]) < 0.06 and abs(last - own[1] * scale[k]) < 0.06
        )

    for entry in told:
        assert any(all(agrees(entry[k], own[k], k) for k in (0, 1)) for own in brute), (entry, brute)
    if " … and" not in work.said:
        for own in brute:
            assert any(all(agrees(entry[k], own[k], k) for k in (0, 1)) for entry in told), (own, told)
    uneven = [s for s in sides if not s.equal()]
    if uneven:
        assert "unequal cuts" in work.said or "the largest side is balanced" in work.said
    if not work.finish["run_on"] and all(s.plumb() for s in sides if s.stands):
        pitches = {round(s.heights()[1], 2) for s in sides if s.stands}
        if len(pitches) == 1:
            assert level(sides), "courses stay level"


@pytest.fixture(scope="module")
def folders(tmp_path_factory):
    return lambda: tmp_path_factory.mktemp("work")


@given(
    st.sampled_from(sorted(MODELS)),
    st.sampled_from(sorted(MATERIALS)),
    st.lists(STEP, min_size=2, max_size=6),
)
@settings(max_examples=at_length(10, 60))
def test_every_step_keeps_what_it_promises_or_says_what_it_gave_up(folders, name, material, steps):
    work = Work(folders(), name, material)
    for step in steps:
        before, was = work.sides(), work.finish
        set_out = bool(was["adjust"]) or was["offset_mm"] != [0, 0]
        corners = {tuple(p) for s in before for p in s.points.tolist()}
        on = {
            p
            for p in corners
            if all(
                s.on_joints(np.array(p)) for s in before if np.linalg.norm(s.points - p, axis=1).min() < 1e-6
            )
        }
        take(work, step)
        after = work.sides()
        if not set_out:
            continue
        stood = [b for a, b in zip(before, after, strict=True) if a.plumb() is not None]
        if level(before) and not (all(b.plumb() for b in stood) and level(stood)):
            assert "no longer run on level" in work.said, (step, work.said)
        if any(a.equal() and not b.equal() for a, b in zip(before, after, strict=True)):
            assert "no longer equal" in work.said, (step, work.said)
        lost = [
            p
            for p in on
            if not all(
                s.on_joints(np.array(p)) for s in after if np.linalg.norm(s.points - p, axis=1).min() < 1e-6
            )
        ]
        if lost:
            assert re.search(r"joints no longer fall on \d+ corner", work.said), (step, work.said)


def test_the_plinth_of_the_trial(folders):
    """A joint on a corner, then balance on every side: once 60 mm between neighbouring sides, and "4 whole up" told of
    150 mm units on a face 540 mm high."""
    work = Work(folders(), "plinth of four", "tile")
    work.edit(kind="set_out", face=2, place=[0.0, 0.0, 540.0], at="corner", what="joint")
    assert level(work.sides())
    work.edit(kind="balance", finish="F1")
    sides = work.sides()
    assert level(sides) and "3 whole" not in work.said.split("along")[0]
    up = {s.row(1) for s in sides if s.stands}
    assert len(up) == 1
    ((first, last, whole),) = up
    # 540 = 2 x 120 + 2 x 150, of which joints of 3 mm take half each at a cut.
    assert (first, last, whole) == pytest.approx((118.5, 118.5, 2), abs=1e-6)
    assert "cuts of 118.5 mm at both ends, 2 whole between up" in work.said


def test_the_tape_measures_what_balance_tells(folders):
    work = Work(folders(), "plinth of six", "slab")
    work.edit(kind="balance", finish="F1")
    side = next(s for s in work.sides() if s.stands)
    face = next(f for f, s in enumerate(work.sides()) if s.stands)
    low, high = side.points[np.argmin(side.points[:, 2])], side.points[np.argmax(side.points[:, 2])]
    middle = side.points.mean(axis=0)
    foot, top = np.array([*middle[:2], low[2]]), np.array([*middle[:2], high[2]])
    answer = work.asking.client.post(
        f"{work.asking.path}/tape",
        json={"a": {"face": face, "place": foot.tolist()}, "b": {"face": face, "place": top.tolist()}},
    )
    tape = answer.json
    first, last, whole = side.row(1)
    assert tape["up_mm"] == pytest.approx(first + last + 5 + whole * 90, abs=0.1)
    assert tape["units"][1] == pytest.approx(455 / 90, abs=1e-3)
