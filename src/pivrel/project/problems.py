"""What an artist would want to know of a schedule before handing it over."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pivrel.core.measure.figures import Figures
from pivrel.core.schedule import Schedule
from pivrel.formats.laid import not_written

FAR = 0.8
"""A finish of which less is true to scale is worth a line."""

SEEN_MM = 0.5
"""What a throw is off by within faces is worth a line from here on."""

SMALLEST_M2, SMALLEST_M = 0.00005, 0.0005
"""Below these a figure shows as zero and is not worth a line."""


@dataclass(frozen=True)
class Problem:
    """Something that is worth a line. finish: None where it concerns what has none. fix: what helps."""

    what: Literal["bare", "smeared", "mirrored", "seams", "covered", "unsolved", "untrue", "off"]
    finish: str | None
    amount: float
    unit: str
    text: str
    fix: str


def problems(schedule: Schedule) -> list[Problem]:
    """What is still wrong, the worst kind first."""
    figures = schedule.of_each(schedule.figures)
    out = [_failed(key, told) for key in schedule.keys if (told := schedule.failure(key))]
    failed = {problem.finish for problem in out}
    out += [_unmeasured(key) for key in schedule.keys if key not in {*figures, *failed}]
    out += _bare(schedule)
    for key, f in figures.items():
        if f.smeared_m2 > SMALLEST_M2:
            out.append(_smeared(key, f))
    for key, f in figures.items():
        if f.mirrored_m2 > SMALLEST_M2:
            out.append(_mirrored(key, f))
    # Joints at corners are often meant; what is far from true hardly ever is.
    for key, f in figures.items():
        if len(schedule.drawn(key)) and f.true_share < FAR:
            out.append(_untrue(key, f))
    for key, f in figures.items():
        if f.seams_m > SMALLEST_M:
            out.append(_seams(key, f))
    off = {key for key in schedule.keys if not schedule.finishes[key].on}
    unsolved = {
        key: told for key in schedule.keys if key not in {*off, *failed} and (told := schedule.troubles(key))
    }
    out += [_unsolved(key, told) for key, told in unsolved.items()]
    passed = {*off, *unsolved, *failed}
    nowhere = [key for key in schedule.keys if key not in passed and not len(schedule.drawn(key))]
    return out + [_covered(schedule, key) for key in nowhere] + [_off(key) for key in sorted(off)]


def _bare(schedule: Schedule) -> list[Problem]:
    bare = schedule.shown_areas()[1]
    if bare <= SMALLEST_M2:
        return []
    return [
        Problem(
            "bare", None, bare, "m²", "has no finish; it is written with the materials that it came with",
            "Pick the bare faces and lay a material on them, or leave them on purpose.",
        )
    ]  # fmt: skip


def _smeared(key: str, f: Figures) -> Problem:
    return Problem(
        "smeared", key, f.smeared_m2, "m²", "is smeared: the projection meets it nearly edge-on",
        "Lay those faces by box, or by a planar projection of their own.",
    )  # fmt: skip


def _mirrored(key: str, f: Figures) -> Problem:
    return Problem(
        "mirrored", key, f.mirrored_m2, "m²", "shows the material mirrored",
        "Flip the sheet where all of a finish is mirrored; else set backs to unmirrored, or lay those faces by box.",
    )  # fmt: skip


def _seams(key: str, f: Figures) -> Problem:
    return Problem(
        "seams", key, f.seams_m, "m", "of edges where the pattern does not run on",
        "Shift or turn the sheet, or leave them where a joint is expected.",
    )  # fmt: skip


def _untrue(key: str, f: Figures) -> Problem:
    return Problem(
        "untrue", key, f.true_share * 100, "%",
        "of it is true to scale within 5 %: on the rest the pattern is squeezed or stretched",
        "Try all projections on it, or divide it and lay each part by its own.",
    )  # fmt: skip


def _covered(schedule: Schedule, key: str) -> Problem:
    held = bool(len(schedule.held(key)))
    why = "later rows cover all of its pick" if held else "its pick holds no face of this model"
    fix = "Remove it, or move it down the schedule." if held else "Pick its faces anew, or remove it."
    return Problem("covered", key, 0, "", f"covers no face: {why}; it is left out of the files", fix)


def _unsolved(key: str, troubles: str) -> Problem:
    return Problem(
        "unsolved", key, 0, "", f"leaves faces bare that could not be laid: {troubles}",
        "Do as it says, or lay those faces by another projection.",
    )  # fmt: skip


def _failed(key: str, told: str) -> Problem:
    return Problem(
        "unsolved", key, 0, "", f"is left out of the files: {told}",
        "Until it can be laid, its faces are written with what lies beneath, or as they came.",
    )  # fmt: skip


def _unmeasured(key: str) -> Problem:
    return Problem(
        "unsolved", key, 0, "", "could not be measured, so nothing is told of it here; it is written as it lies",
        "Look at it in the view before you hand it over.",
    )  # fmt: skip


def _off(key: str) -> Problem:
    return Problem(
        "off", key, 0, "", "is switched off: it is left out of the files, and what lies beneath is written",
        "Switch it on in the schedule, or leave it off on purpose.",
    )  # fmt: skip


def notes(schedule: Schedule) -> list[str]:
    """What no file can hold as the view shows it, in sentences."""
    joints = schedule.of_each(lambda key: schedule.figures(key).joints_m)
    off_within = schedule.of_each(schedule.off_within)
    out = []
    for key, finish in schedule.finishes.items():
        row = f"{key} {finish.name}"
        if finish.projection.blends:
            out.append(f"{row}: files do not blend; each face takes its strongest axis")
        out += [f"{row}: {sentence}" for sentence in not_written(finish)]
        if (off := off_within.get(key, 0.0)) > SEEN_MM:
            out.append(
                f"{row}: files hold a throw by the corners of faces; between them it is off by up to {off:,.1f} mm"
            )
        if not finish.tile:
            out.append(f"{row}: the faces are cut along the single sheet's outline")
        if (run_on := joints.get(key, 0.0)) > SMALLEST_M:
            out.append(f"{row}: at {run_on:.2f} m of edges the joints run on, but the image is another")
    return out
