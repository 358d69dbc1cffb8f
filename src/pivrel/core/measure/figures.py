"""The figures of a finish as the schedule shows them, and of what is still bare."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.portion import Portion, portion
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.tolerances import TOLERANCE
from pivrel.core.kernels import kernel
from pivrel.core.laying import Settled, hands, lay, lay_raw
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.seams import Seams, find_seams, smooth_pairs
from pivrel.core.measure.shown import edge_shares_within, shares_within
from pivrel.core.measure.stretch import MIRRORED_BELOW, SMEARED_BELOW, stretch

MM2_PER_M2 = 1e6


@dataclass(frozen=True)
class Figures:
    """Section 7 of the laying contract for one finish.

    area_m2: what shows of it; of a single sheet that is no more than the sheet. true_share: share of that
    area true to scale, 0 to 1. least, greatest: the extremes of stretch. seams_m: open seams; joints_m:
    edges at which the images differ but the joints of both sides meet; torn_m: of the open seams, those
    that run through a patch, where nobody expects one, and smooth_m: all edges within patches. closings: the
    k of whole repeats, where the sheet was stretched along to close round a cylinder. The last four are face ids (int32), so
    that each figure can be picked; untrue_faces are those not true to scale.
    """

    faces: int
    area_m2: float
    true_share: float
    least_stretch: float
    greatest_stretch: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float
    joints_m: float
    torn_m: float
    smooth_m: float
    worst_gap_mm: float
    closings: tuple[float, ...]
    untrue_faces: Ints
    smeared_faces: Ints
    mirrored_faces: Ints
    seam_faces: Ints


@dataclass(frozen=True)
class Stretches:
    """Of the triangles of a finish, face after face: greatest and least stretch of each (T,).

    det: the determinant of J, below zero where the sheet as it lies shows its mirror image. own: the faces by themselves.
    """

    own: Portion
    high: Floats
    low: Floats
    det: Floats


def stretches(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Stretches:
    """How truly a finish is laid on the faces that it covers (int32 ids, ascending).

    A triplanar finish is judged by each face's strongest axis.
    """
    own = portion(surface, faces)
    raw = lay_raw(surface, faces, settled)
    high, low, det = stretch(surface.mesh.points, own.points, own.triangles, raw)
    det *= hands(finish, faces, settled)[own.row]
    return Stretches(own, high, low, det)


def seams_of(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Seams:
    """The edges within a finish, and whether the pattern runs on across them.

    Of a single sheet only what lies on the sheet counts.
    """
    own, material = portion(surface, faces), finish.material
    final = lay(surface, finish, faces, settled)
    if not finish.tile:
        found = find_seams(own, final, None)
        after = surface.topology.next_corner
        on_sheet = [
            edge_shares_within(final[own.own(half)], final[own.own(after[half])], *material.repeat_mm)
            for half in found.pairs.T
        ]
        return replace(found, length_mm=found.length_mm * np.maximum(*on_sheet))
    found = find_seams(own, final, material.repeat_mm, material.joints)
    if finish.projection.blends:
        # Where both faces shade alike at an edge, the blend there is the same from either side.
        joined = smooth_pairs(surface, found)
        return replace(found, gap_mm=np.where(joined, 0.0, found.gap_mm), matched=found.matched | joined)
    return found


def shown_areas(own: Portion, finish: Finish, settled: Settled) -> Floats:
    """(T,) mm² of each triangle of some faces that shows the finish: all of it unless it is a single sheet."""
    if finish.tile:
        return own.areas
    final = lay(own.surface, finish, own.faces, settled)
    within: Floats = own.areas * shares_within(final, own.triangles, *finish.material.repeat_mm)
    return within


UNTRUE, SMEARED, MIRRORED = 1, 2, 4
"""What can be wrong with a face, as bits."""


@kernel
def _judged(
    high: Floats, low: Floats, det: Floats, area: Floats, row: Ints, least: float, most: float, wrong: Ints
) -> tuple[float, float, float, float, float, float]:
    """mm² of triangles in all, true, smeared and mirrored, and the extremes of stretch; bits of `wrong` by face."""
    total = true = smeared = mirrored = 0.0
    low_at, high_at = np.inf, -np.inf
    for t in range(len(area)):
        if not area[t] > 0.0:
            continue
        total += area[t]
        low_at, high_at = min(low_at, low[t]), max(high_at, high[t])
        if low[t] >= least and high[t] <= most:
            true += area[t]
        else:
            wrong[row[t]] |= UNTRUE
        if low[t] < SMEARED_BELOW:
            smeared += area[t]
            wrong[row[t]] |= SMEARED
        if det[t] < MIRRORED_BELOW:
            mirrored += area[t]
            wrong[row[t]] |= MIRRORED
    return total, true, smeared, mirrored, low_at, high_at


@kernel
def _summed(
    pairs: Ints,
    length: Floats,
    gap: Floats,
    matched: Mask,
    joints: Mask,
    face: Ints,
    patch: Ints,
    at_seam: Mask,
) -> tuple[float, float, float, float, float]:
    """mm of open seams, of joints that run on, of seams and of all edges within patches, and the worst gap.

    at_seam: (F,) takes the faces at edges that are not matched.
    """
    seams = joined = torn = smooth = worst = 0.0
    for e in range(len(pairs)):
        a, b = face[pairs[e, 0]], face[pairs[e, 1]]
        inner = patch[a] == patch[b]
        if inner:
            smooth += length[e]
        if joints[e]:
            joined += length[e]
        elif not matched[e]:
            seams += length[e]
            if inner:
                torn += length[e]
        # A gap between units whose joints meet is no fault, however large.
        if length[e] > 0.0 and not joints[e]:
            worst = max(worst, gap[e])
            if not matched[e]:
                at_seam[a] = at_seam[b] = True
    return seams, joined, torn, smooth, worst


def measure(
    surface: Surface, finish: Finish, faces: Ints, settled: Settled, tolerance: float = TOLERANCE
) -> Figures:
    """Measures a finish on the faces that it covers (int32 ids, ascending)."""
    return measured(finish, settled, stretches(surface, finish, faces, settled), tolerance)


def measured(finish: Finish, settled: Settled, found: Stretches, tolerance: float = TOLERANCE) -> Figures:
    """The same where it is known already how truly the finish lies."""
    surface, faces = found.own.surface, found.own.faces
    area = shown_areas(found.own, finish, settled)
    wrong = np.zeros(len(faces), np.int8)
    # A rounding error must not decide whether an unstretched face is true.
    least, most = 1 / (1 + tolerance) - 1e-9, 1 + tolerance + 1e-9
    total, true, smeared, mirrored, low, high = _judged(
        found.high, found.low, found.det, area, found.own.row, least, most, wrong
    )
    seams = seams_of(surface, finish, faces, settled)
    at_seam = np.zeros(surface.mesh.face_count, bool)
    seams_mm, joints_mm, torn_mm, smooth_mm, gap_mm = _summed(
        seams.pairs, seams.length_mm, seams.gap_mm, seams.matched, seams.joints, surface.topology.corner_face,
        surface.patches(), at_seam,
    )  # fmt: skip
    return Figures(
        faces=len(faces),
        area_m2=total / MM2_PER_M2,
        true_share=true / total if total > 0 else 1.0,
        least_stretch=low if total > 0 else 1.0,
        greatest_stretch=high if total > 0 else 1.0,
        smeared_m2=smeared / MM2_PER_M2,
        mirrored_m2=mirrored / MM2_PER_M2,
        seams_m=seams_mm / 1000,
        joints_m=joints_mm / 1000,
        torn_m=torn_mm / 1000,
        smooth_m=smooth_mm / 1000,
        worst_gap_mm=gap_mm,
        closings=closings(settled),
        untrue_faces=faces[wrong & UNTRUE > 0],
        smeared_faces=faces[wrong & SMEARED > 0],
        mirrored_faces=faces[wrong & MIRRORED > 0],
        seam_faces=faces[at_seam[faces]],
    )


def closings(settled: Settled) -> tuple[float, ...]:
    """The factors that whole repeats asked for, each once; none where nothing was to be closed."""
    asked = {factor for piece in settled.pieces for factor in piece.projection.closings()}
    return tuple(sorted(asked - {1.0}))


def shown_by_face(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Floats:
    """(K,) mm² of each of the faces that a finish is laid on (int32 ids, ascending) which show it."""
    own = portion(surface, faces)
    shown = shown_areas(own, finish, settled)
    out: Floats = np.bincount(own.row, weights=shown, minlength=len(faces)).astype(np.float64)
    return out


def left_areas(surface: Surface, singles: Iterable[tuple[Ints, Floats]]) -> Floats:
    """(F,) mm² of each face beside the single sheets that lie on it: faces and `shown_by_face` of each."""
    out = surface.face_areas.copy()
    for faces, shown in singles:
        out[faces] -= shown
    left: Floats = np.maximum(out, 0.0)
    return left
