"""The flattened mesh as OBJ: every piece as it lies on the sheet, in mm, with the material's coordinates."""

from __future__ import annotations

import numpy as np

from pivrel.core.measure.pieces import Pieces


def write_flat_obj(pieces: Pieces, repeat_mm: tuple[float, float], told: str) -> bytes:
    """An object for each piece; x is s and y is t in mm, z is 0. Texture coordinates are repeats of the material.

    repeat_mm: as it lies, in mm of the model. Faces keep their order and their corners' order from the model.
    """
    mesh = pieces.surface.mesh
    lines = ["# millimetres", f"# {told}"]
    vertex = mesh.corners[pieces.surface.corners_of(pieces.faces)]
    count = np.diff(mesh.face_start)[pieces.faces]
    first = np.concatenate([[0], np.cumsum(count)])
    written = 0
    for number in range(pieces.count):
        rows = np.flatnonzero(pieces.piece == number)
        own = np.concatenate([np.arange(first[row], first[row + 1]) for row in rows])
        # A vertex that lies at two places of its piece, on both sides of a cut, is two.
        key = np.column_stack([vertex[own].astype(float), np.round(pieces.final[own], 6)])
        _, at, of = np.unique(key, axis=0, return_index=True, return_inverse=True)
        places = pieces.final[own[at]]
        lines.append(f"o piece_{number + 1}")
        lines += [f"v {s:.6f} {t:.6f} 0" for s, t in places]
        lines += [f"vt {s:.8f} {t:.8f}" for s, t in places / repeat_mm]
        ids = (of.reshape(-1) + written + 1).tolist()
        start = 0
        for row in rows.tolist():
            lines.append("f " + " ".join(f"{k}/{k}" for k in ids[start : start + int(count[row])]))
            start += int(count[row])
        written += len(at)
    return ("\n".join(lines) + "\n").encode()
