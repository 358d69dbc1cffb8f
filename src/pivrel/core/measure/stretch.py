"""How truly a projection lays the sheet: stretch, smear and mirroring, triangle by triangle."""

from __future__ import annotations

import numpy as np
from numba import prange

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel

SMEARED_BELOW = 0.25
MIRRORED_BELOW = -1e-12
"""Below zero by more than rounding: a face met exactly edge-on is smeared, not mirrored."""


@kernel(parallel=True)
def stretch(points: Floats, corners: Ints, triangles: Ints, raw: Floats) -> tuple[Floats, Floats, Floats]:
    """(T,) greatest and least stretch and the determinant of J, for the given triangles.

    J maps the triangle's own plane (mm) to raw (s, t) (mm); raw is (C, 2) by corner id. Its
    singular values come in closed form (J. Blinn, "Consider the Lowly 2 x 2 Matrix", IEEE
    Computer Graphics and Applications 16(2), 1996). A triangle without area counts as true.
    """
    count = len(triangles)
    high, low, det = np.ones(count), np.ones(count), np.ones(count)
    for t in prange(count):
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        a, b, c = points[corners[i]], points[corners[j]], points[corners[k]]
        ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        along = np.sqrt(ux * ux + uy * uy + uz * uz)
        cx, cy, cz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        twice = np.sqrt(cx * cx + cy * cy + cz * cz)
        reach = vx * vx + vy * vy + vz * vz
        if twice <= 1e-12 * max(along * along, reach):
            continue
        # In the plane: u = (along, 0), v = (vs, vt); J = [du dv] * [u v]^-1.
        vs, vt = (ux * vx + uy * vy + uz * vz) / along, twice / along
        ds1, dt1 = raw[j, 0] - raw[i, 0], raw[j, 1] - raw[i, 1]
        ds2, dt2 = raw[k, 0] - raw[i, 0], raw[k, 1] - raw[i, 1]
        j11, j21 = ds1 / along, dt1 / along
        j12, j22 = (ds2 - j11 * vs) / vt, (dt2 - j21 * vs) / vt
        q = np.hypot((j11 + j22) / 2, (j21 - j12) / 2)
        r = np.hypot((j11 - j22) / 2, (j21 + j12) / 2)
        high[t], low[t] = q + r, abs(q - r)
        det[t] = j11 * j22 - j12 * j21
    return high, low, det
