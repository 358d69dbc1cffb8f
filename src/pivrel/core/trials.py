"""The same pick laid by every projection, each fitted, best first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Settled, settle, solve
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.faces import FaceStretch, by_face
from pivrel.core.measure.figures import Figures, measured, stretches
from pivrel.core.phrases import metres, percent
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import Aim, Fit, Projection, Solved, fit
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import joined_troubles

ALIKE = 0.01

TRIED_UP_TO = 250_000
"""Of more triangles a laying that is solved takes too long to be one of several trials; it can still be laid."""

GOOD = 0.8
"""A trial in which less of the area reads right than this is not to be recommended, best of all or not."""

SEAM_STRIP = 0.1
"""A seam spoils a strip this share of a repeat wide, along its whole length."""

TORN = 3.0
"""Where a third of the edges within smooth surfaces are torn open, nothing of the pattern is left; one seam is borne."""


@dataclass(frozen=True)
class Trial:
    """One projection fitted to the pick, and how it came out.

    good: the share of the area that reads right, the measure that trials are ordered by: true to
    scale, less what is smeared, mirrored, lies at an unmatched seam or could not be laid. why: that in words.
    faces: (K,) int32, those that were laid. stretch: how truly each of them.
    """

    finish: Finish
    settled: Settled
    faces: Ints
    fit: Fit
    figures: Figures
    stretch: FaceStretch
    good: float
    why: str


def trials(
    surface: Surface,
    finish: Finish,
    candidates: Sequence[Projection],
    aim: Aim,
    pause: Callable[[Projection, float], None] = lambda _projection, _share: None,
) -> list[Trial]:
    """The finish by each of the candidates, on a datum fitted anew to its whole pick, best first.

    candidates: from the simplest to the most involved: of two that come out alike the simpler one goes first.
    pause: called before each projection with it and the share that is over; what it raises ends the trials.
    """
    faces = as_faces(resolve(finish.pick, surface))
    whole = float(surface.face_areas[faces].sum())
    tried = []
    ground = Ground(surface, faces)
    large = untried(surface, faces) is not None
    for at, projection in enumerate(candidates):
        if large and isinstance(projection, Solved):
            continue
        pause(projection, at / len(candidates))
        found = fit(surface, faces, projection, aim)
        datum = found.datum if projection.has_datum else None
        laid = replace(finish, projection=projection, datum=datum, datum_for="pick")
        settled = settle(surface, laid, faces, solve(laid, ground))
        own = settled.laid_of(faces)
        if not len(own):
            continue
        lies = stretches(surface, laid, own, settled)
        figures = measured(laid, settled, lies)
        share = figures.area_m2 * 1e6 / max(whole, 1e-12)
        good = _good(figures, finish.material.repeat_mm) * min(share, 1.0)
        why = _why(laid, found, figures) + _left_bare(settled, 1 - share)
        gain = good - projection.cost
        tried.append(
            (-round(gain / ALIKE), at, Trial(laid, settled, own, found, figures, by_face(lies), good, why))
        )
    return [trial for _, _, trial in sorted(tried, key=lambda t: t[:2])]


def untried(surface: Surface, faces: Ints) -> str | None:
    """What is not tried on a pick as large as this (int32 ids), in a sentence; None where everything is."""
    count = int(surface.held(faces)[surface.triangle_face].sum())
    if count <= TRIED_UP_TO:
        return None
    return (
        f"What follows the surface is tried on up to {TRIED_UP_TO:,} triangles, and the pick has {count:,}."
    )


SAME_MM = 0.01
"""Layings that differ by no more than this, but for one shift of the whole sheet, look the same."""


def fold_equal(sheets: Sequence[Floats32], blends: Sequence[bool]) -> list[list[int]]:
    """Which trials come out the same, in groups that each begin with the best; sheets: (C, 2) mm each, of one pick.

    blends: what blends is never like what does not, wherever its strongest sheet lies.
    """
    groups: list[list[int]] = []
    for at, sheet in enumerate(sheets):
        for group in groups:
            if blends[at] == blends[group[0]] and _alike(sheet, sheets[group[0]]):
                group.append(at)
                break
        else:
            groups.append([at])
    return groups


def _alike(one: Floats32, other: Floats32) -> bool:
    """Whether two sheets differ by a shift alone; most that do not show it in a few corners."""
    for step in (997, 1):
        apart = one[::step] - other[::step]
        # Corners that no sheet reaches are not compared, but must be the same ones.
        laid = ~np.isnan(one[::step, 0])
        same_corners = np.array_equal(laid, ~np.isnan(other[::step, 0]))
        held = apart[laid]
        if not same_corners or (len(held) and not (np.ptp(held, axis=0) < SAME_MM).all()):
            return False
    return True


def advice(found: list[Trial]) -> str | None:
    """What would serve the pick better, in a sentence, where no trial lays enough of it well."""
    if not found or _lies_well(found[0].figures) >= GOOD:
        return None
    # A share that a projection would serve counts where its trial bore it out.
    served = [
        share
        for t in found
        if (share := t.finish.projection.serves(t.fit)) is not None
        and t.figures.true_share >= BORNE_OUT * share[0]
    ]
    best = "; ".join(words for share, words in sorted(served, reverse=True) if share > 0.15)
    most = max(t.good for t in found)
    much = f"more than {percent(most)}" if most >= 0.005 else "any"
    told = f"No projection lays {much} of this pick well: divide it, and lay each part by its own"
    return f"{told} ({best})." if best else f"{told}."


BORNE_OUT = 0.8
"""So much of what a fit promises must have come true in the trial."""


def _lies_well(figures: Figures) -> float:
    """The share of the area that is true to scale, less what is smeared, mirrored or torn.

    Seams at creases can be set out.
    """
    area = max(figures.area_m2, 1e-12)
    return figures.true_share - (figures.smeared_m2 + figures.mirrored_m2) / area - _torn(figures)


def _torn(figures: Figures) -> float:
    """How much of the pattern tears through smooth surfaces leave in rags, 1 at most."""
    return min((TORN * figures.torn_m / max(figures.smooth_m, 1e-12)) ** 2, 1.0)


def _good(figures: Figures, repeat_mm: tuple[float, float]) -> float:
    area = max(figures.area_m2, 1e-12)
    creased = (figures.seams_m - figures.torn_m) * SEAM_STRIP * min(repeat_mm) / 1000
    spoiled = (figures.smeared_m2 + figures.mirrored_m2) / area + min(creased / area, 0.5) + _torn(figures)
    return figures.true_share - spoiled


def _left_bare(settled: Settled, share: float) -> str:
    """What could not be laid and why, to be added to a sentence; empty where all was."""
    if settled.solution is None or not settled.solution.troubles:
        return ""
    return f"; {percent(share)} of it is left bare: {joined_troubles(settled.solution.troubles)}"


def _why(finish: Finish, found: Fit, figures: Figures) -> str:
    """What speaks for and against it, the weightiest first."""
    area = max(figures.area_m2, 1e-12)
    against = []
    if figures.smeared_m2 / area > 0.005:
        against.append(f"{percent(figures.smeared_m2 / area)} meets it edge-on and is smeared")
    if figures.mirrored_m2 / area > 0.005:
        against.append(f"{percent(figures.mirrored_m2 / area)} is mirrored")
    if figures.seams_m > 0.005:
        against.append(f"the pattern breaks along {metres(figures.seams_m)} of seams")
    if figures.true_share > 0.995:
        scale = "all of it is true to scale"
    elif figures.true_share < 0.0005:
        scale = "none of it is true to scale"
    else:
        scale = f"{percent(figures.true_share)} is true to scale"
    caveat = finish.projection.caveat(found)
    if caveat is not None:
        against.append(caveat)
    if figures.joints_m > 0.005:
        against.append(f"joints run on at {metres(figures.joints_m)} of edges")
    if finish.projection.blends and figures.seams_m <= 0.005:
        against.append("no seams: three layings are blended where the surface turns")
    return "; ".join([scale, *against])
