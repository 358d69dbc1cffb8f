"""The figures of a finish as the schedule shows them, and of what is still bare."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.tolerances import TOLERANCE
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
    """Of the triangles of a finish: their rows (T,), and greatest and least stretch of each.

    det: the determinant of J, below zero where the sheet as it lies shows its mirror image.
    """

    triangles: Ints
    high: Floats
    low: Floats
    det: Floats


def stretches(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Stretches:
    """How truly a finish is laid on the faces that it covers (int32 ids, ascending).

    A triplanar finish is judged by each face's strongest axis.
    """
    mesh = surface.mesh
    raw = np.zeros((mesh.corner_count, 2))
    raw[surface.corners_of(faces)] = lay_raw(surface, faces, settled)
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    high, low, det = stretch(mesh.points, mesh.corners, surface.triangles[own], raw)
    hand = hands(finish, faces, settled)[np.searchsorted(faces, surface.triangle_face[own])]
    return Stretches(own, high, low, det * hand)


def seams_of(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Seams:
    """The edges within a finish, and whether the pattern runs on across them.

    Of a single sheet only what lies on the sheet counts.
    """
    final = np.zeros((surface.mesh.corner_count, 2))
    final[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    material = finish.material
    if not finish.tile:
        found = find_seams(surface, surface.held(faces), final, None)
        after = surface.topology.next_corner
        on_sheet = [
            edge_shares_within(final[half], final[after[half]], *material.repeat_mm) for half in found.pairs.T
        ]
        return replace(found, length_mm=found.length_mm * np.maximum(*on_sheet))
    found = find_seams(surface, surface.held(faces), final, material.repeat_mm, material.joints)
    if finish.projection.blends:
        # Where both faces shade alike at an edge, the blend there is the same from either side.
        joined = smooth_pairs(surface, found)
        return replace(found, gap_mm=np.where(joined, 0.0, found.gap_mm), matched=found.matched | joined)
    return found


def shown_areas(surface: Surface, finish: Finish, faces: Ints, settled: Settled, triangles: Ints) -> Floats:
    """(T,) mm² of each of these triangles (rows) that shows the finish: all of it unless it is a single sheet."""
    areas = surface.triangle_areas[triangles]
    if finish.tile:
        return areas
    final = np.zeros((surface.mesh.corner_count, 2))
    final[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    within: Floats = areas * shares_within(final, surface.triangles[triangles], *finish.material.repeat_mm)
    return within


def measure(
    surface: Surface, finish: Finish, faces: Ints, settled: Settled, tolerance: float = TOLERANCE
) -> Figures:
    """Measures a finish on the faces that it covers (int32 ids, ascending)."""
    found = stretches(surface, finish, faces, settled)
    area = shown_areas(surface, finish, faces, settled, found.triangles)
    total = float(area.sum())
    # A rounding error must not decide whether an unstretched face is true.
    true = (found.low >= 1 / (1 + tolerance) - 1e-9) & (found.high <= 1 + tolerance + 1e-9)
    smeared, mirrored = found.low < SMEARED_BELOW, found.det < MIRRORED_BELOW
    solid = area > 0

    seams = seams_of(surface, finish, faces, settled)
    # A gap between units whose joints meet is no fault, however large.
    shown = (seams.length_mm > 0) & ~seams.joints
    face_of = surface.triangle_face[found.triangles]
    patch = surface.patches()[surface.topology.corner_face[seams.pairs]]
    smooth = patch[:, 0] == patch[:, 1]
    return Figures(
        faces=len(faces),
        area_m2=total / MM2_PER_M2,
        true_share=float(area[true].sum()) / total if total > 0 else 1.0,
        least_stretch=float(found.low[solid].min()) if solid.any() else 1.0,
        greatest_stretch=float(found.high[solid].max()) if solid.any() else 1.0,
        smeared_m2=float(area[smeared].sum()) / MM2_PER_M2,
        mirrored_m2=float(area[mirrored].sum()) / MM2_PER_M2,
        seams_m=float(seams.length_mm[seams.broken].sum()) / 1000,
        joints_m=float(seams.length_mm[seams.joints].sum()) / 1000,
        torn_m=float(seams.length_mm[seams.broken & smooth].sum()) / 1000,
        smooth_m=float(seams.length_mm[smooth].sum()) / 1000,
        worst_gap_mm=float(seams.gap_mm[shown].max()) if shown.any() else 0.0,
        closings=closings(settled),
        untrue_faces=np.unique(face_of[~true & solid]),
        smeared_faces=np.unique(face_of[smeared & solid]),
        mirrored_faces=np.unique(face_of[mirrored & solid]),
        seam_faces=np.unique(surface.topology.corner_face[seams.pairs[~seams.matched & shown]]),
    )


def closings(settled: Settled) -> tuple[float, ...]:
    """The factors that whole repeats asked for, each once; none where nothing was to be closed."""
    asked = {factor for piece in settled.pieces for factor in piece.projection.closings()}
    return tuple(sorted(asked - {1.0}))


def shown_by_face(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Floats:
    """(K,) mm² of each of the faces that a finish is laid on (int32 ids, ascending) which show it."""
    triangles = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    shown = shown_areas(surface, finish, faces, settled, triangles)
    at = np.searchsorted(faces, surface.triangle_face[triangles])
    out: Floats = np.bincount(at, weights=shown, minlength=len(faces)).astype(np.float64)
    return out


def left_areas(surface: Surface, singles: Iterable[tuple[Ints, Floats]]) -> Floats:
    """(F,) mm² of each face beside the single sheets that lie on it: faces and `shown_by_face` of each."""
    out = surface.face_areas.copy()
    for faces, shown in singles:
        out[faces] -= shown
    left: Floats = np.maximum(out, 0.0)
    return left
