"""Tie points: places of the sheet that are to fall on places of the model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats

TieBy = Literal["move", "turn", "scale", "skew"]
"""What ties may do to the sheet; each one may do what those before it may."""

SAME = 1e-9


@dataclass(frozen=True)
class Tie:
    """A place (s', t') of the sheet in mm that is to fall on a place of the model in mm."""

    sheet_mm: tuple[float, float]
    at_mm: tuple[float, float, float]


def tied_motion(
    now: Floats, wanted: Floats, by: TieBy, scale: tuple[float, float], repeat_mm: tuple[float, float] | None
) -> Floats:
    """(2, 3) what moves the sheet so that the places now (N, 2) fall on those wanted (N, 2), in final mm.

    One tie moves it; two turn it as well, and more by least squares, all within `by`: a turn keeps lengths on the
    face, a scale angles, a skew neither. scale: the finish's own, between mm of the sheet and of the face. repeat_mm: what
    is wanted may be any repeat of it, the nearest counts; None where the sheet is shown once.
    """
    to_face = np.array(scale)
    wanted = wanted.copy()
    for row in range(len(now)):
        # Once the first lies where it should the others are counted from there.
        moved = now[row] + (wanted[0] - now[0] if row else 0.0)
        if repeat_mm is not None:
            wanted[row] += np.round((moved - wanted[row]) / repeat_mm) * repeat_mm
    p, q = now * to_face, wanted * to_face
    middle, there = p.mean(axis=0), q.mean(axis=0)
    linear = _linear(p - middle, q - there, by)
    shift = there - linear @ middle
    # From mm of the face back to mm of the sheet.
    return np.column_stack([linear * to_face[None, :] / to_face[:, None], shift / to_face])


def _linear(p: Floats, q: Floats, by: TieBy) -> Floats:
    """(2, 2) what best takes p (N, 2) to q (N, 2), both about their middles.

    Turn and scale after S. Umeyama, "Least-squares estimation of transformation parameters between two point patterns",
    IEEE Transactions on Pattern Analysis and Machine Intelligence 13(4), 1991.
    """
    size = float((p**2).sum())
    if by == "move" or size < SAME:
        return np.eye(2)
    if by == "skew" and np.linalg.matrix_rank(p, tol=1e-6 * np.sqrt(size)) == 2:
        found, *_ = np.linalg.lstsq(p, q, rcond=None)
        return np.asarray(found.T)
    across = q.T @ p
    u, values, vt = np.linalg.svd(across)
    sign = np.array([1.0, np.sign(np.linalg.det(u @ vt))])
    factor = float(values @ sign) / size if by != "turn" else 1.0
    out: Floats = max(factor, SAME) * (u * sign) @ vt
    return out
