"""The figures of a finish as the schedule shows them, and of what is still bare."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.finish import Finish
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Settled, lay, lay_raw
from pivrel.core.measure.seams import Seams, find_seams, smooth_pairs
from pivrel.core.measure.stretch import MIRRORED_BELOW, SMEARED_BELOW, TOLERANCE, stretch
from pivrel.core.projection import Cylindrical, Triplanar

MM2_PER_M2 = 1e6


@dataclass(frozen=True)
class Figures:
    """Section 7 of the laying contract for one finish.

    true_share: share of the area true to scale, 0 to 1. least, greatest: the extremes of stretch.
    closings: the k of whole repeats, where the sheet was stretched along to close round a cylinder.
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
    closings: tuple[float, ...]
    smeared_faces: Ints
    mirrored_faces: Ints
    seam_faces: Ints


@dataclass(frozen=True)
class Stretches:
    """Of the triangles of a finish: their rows (T,), and greatest, least and determinant of J for each."""

    triangles: Ints
    high: Floats
    low: Floats
    det: Floats


def stretches(surface: Surface, faces: Ints, settled: Settled) -> Stretches:
    """How truly a finish is laid on the faces that it covers (int32 ids, ascending).

    A triplanar finish is judged by each face's strongest axis.
    """
    mesh = surface.mesh
    raw = np.zeros((mesh.corner_count, 2))
    raw[surface.corners_of(faces)] = lay_raw(surface, faces, settled)
    own = np.flatnonzero(surface.held(faces)[surface.triangle_face])
    return Stretches(own, *stretch(mesh.points, mesh.corners, surface.triangles[own], raw))


def seams_of(surface: Surface, finish: Finish, faces: Ints, settled: Settled) -> Seams:
    """The edges within a finish, and whether the pattern runs on across them."""
    final = np.zeros((surface.mesh.corner_count, 2))
    final[surface.corners_of(faces)] = lay(surface, finish, faces, settled)
    found = find_seams(surface, surface.held(faces), final, finish.material.repeat_mm)
    if isinstance(finish.projection, Triplanar):
        # Where both faces shade alike at an edge, the blend there is the same from either side.
        joined = smooth_pairs(surface, found)
        return replace(found, gap_mm=np.where(joined, 0.0, found.gap_mm), matched=found.matched | joined)
    return found


def measure(
    surface: Surface, finish: Finish, faces: Ints, settled: Settled, tolerance: float = TOLERANCE
) -> Figures:
    """Measures a finish on the faces that it covers (int32 ids, ascending)."""
    found = stretches(surface, faces, settled)
    area = surface.triangle_areas[found.triangles]
    total = float(area.sum())
    # A rounding error must not decide whether an unstretched face is true.
    true = (found.low >= 1 / (1 + tolerance) - 1e-9) & (found.high <= 1 + tolerance + 1e-9)
    smeared, mirrored = found.low < SMEARED_BELOW, found.det < MIRRORED_BELOW
    solid = area > 0

    seams = seams_of(surface, finish, faces, settled)
    face_of = surface.triangle_face[found.triangles]
    unmatched = ~seams.matched
    return Figures(
        faces=len(faces),
        area_m2=total / MM2_PER_M2,
        true_share=float(area[true].sum()) / total if total > 0 else 1.0,
        least_stretch=float(found.low[solid].min()) if solid.any() else 1.0,
        greatest_stretch=float(found.high[solid].max()) if solid.any() else 1.0,
        smeared_m2=float(area[smeared].sum()) / MM2_PER_M2,
        mirrored_m2=float(area[mirrored].sum()) / MM2_PER_M2,
        seams_m=float(seams.length_mm[unmatched].sum()) / 1000,
        worst_gap_mm=float(seams.gap_mm.max()) if len(seams.gap_mm) else 0.0,
        closings=closings(settled),
        smeared_faces=np.unique(face_of[smeared & solid]),
        mirrored_faces=np.unique(face_of[mirrored & solid]),
        seam_faces=np.unique(surface.topology.corner_face[seams.pairs[unmatched]]),
    )


def closings(settled: Settled) -> tuple[float, ...]:
    """The factors that whole repeats asked for, each once; none where nothing was to be closed."""
    asked = {p.projection.closing for p in settled.pieces if isinstance(p.projection, Cylindrical)}
    return tuple(sorted(asked - {1.0}))


def bare_area_m2(surface: Surface, face_finish: Ints) -> float:
    """The area that no finish covers; face_finish is (F,) from `laying.cover`."""
    return float(surface.face_areas[face_finish == BARE].sum()) / MM2_PER_M2
