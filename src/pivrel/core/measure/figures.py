"""The figures of a finish as the schedule shows them, and of what is still bare."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Finish, lay, lay_raw
from pivrel.core.measure.seams import find_seams
from pivrel.core.measure.stretch import MIRRORED_BELOW, SMEARED_BELOW, TOLERANCE, stretch

MM2_PER_M2 = 1e6


@dataclass(frozen=True)
class Figures:
    """Section 7 of the laying contract for one finish.

    true_share: share of the area true to scale, 0 to 1. least, greatest: the extremes of stretch.
    The last three are face ids (int32), so that each figure can be picked.
    """

    faces: int
    area_m2: float
    true_share: float
    least_stretch: float
    greatest_stretch: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float
    worst_gap_mm: float
    smeared_faces: Ints
    mirrored_faces: Ints
    seam_faces: Ints


def measure(
    surface: Surface, finish: Finish, faces: Ints, datum: Datum, tolerance: float = TOLERANCE
) -> Figures:
    """Measures a finish on the faces that it covers (int32 ids, ascending)."""
    mesh = surface.mesh
    covered = np.zeros(mesh.face_count, bool)
    covered[faces] = True
    corner_covered = np.repeat(covered, np.diff(mesh.face_start))
    raw = np.zeros((mesh.corner_count, 2))
    raw[corner_covered] = lay_raw(surface, finish, faces, datum)
    final = np.zeros((mesh.corner_count, 2))
    final[corner_covered] = lay(surface, finish, faces, datum)

    own = covered[surface.triangle_face]
    high, low, det = stretch(mesh.points, mesh.corners, surface.triangles[own], raw)
    area = surface.triangle_areas[own]
    total = float(area.sum())
    # A rounding error must not decide whether an unstretched face is true.
    true = (low >= 1 / (1 + tolerance) - 1e-9) & (high <= 1 + tolerance + 1e-9)
    smeared, mirrored = low < SMEARED_BELOW, det < MIRRORED_BELOW
    solid = area > 0

    seams = find_seams(surface, covered, final, finish.material.repeat_mm)
    face_of = surface.triangle_face[own]
    unmatched = ~seams.matched
    return Figures(
        faces=len(faces),
        area_m2=total / MM2_PER_M2,
        true_share=float(area[true].sum()) / total if total > 0 else 1.0,
        least_stretch=float(low[solid].min()) if solid.any() else 1.0,
        greatest_stretch=float(high[solid].max()) if solid.any() else 1.0,
        smeared_m2=float(area[smeared].sum()) / MM2_PER_M2,
        mirrored_m2=float(area[mirrored].sum()) / MM2_PER_M2,
        seams_m=float(seams.length_mm[unmatched].sum()) / 1000,
        worst_gap_mm=float(seams.gap_mm.max()) if len(seams.gap_mm) else 0.0,
        smeared_faces=np.unique(face_of[smeared & solid]),
        mirrored_faces=np.unique(face_of[mirrored & solid]),
        seam_faces=np.unique(surface.topology.corner_face[seams.pairs[unmatched]]),
    )


def bare_area_m2(surface: Surface, face_finish: Ints) -> float:
    """The area that no finish covers; face_finish is (F,) from `laying.cover`."""
    return float(surface.face_areas[face_finish == BARE].sum()) / MM2_PER_M2
