"""The closed-form projections as plain C loops (`loops.c`), compiled for this machine: what the kernels are held against."""

from __future__ import annotations

import ctypes
import subprocess
from functools import cache
from pathlib import Path
from tempfile import gettempdir

import numpy as np

from pivrel.core.arrays import Floats, Floats32
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import Box, Cylindrical, Planar, Projection, Spherical
from pivrel.core.projection.affine import composed
from pivrel.core.projection.box import RULES as BOX_RULES
from pivrel.core.projection.planar import RULES as PLANAR_RULES

FLAGS = ("-O3", "-march=native", "-fopenmp", "-shared", "-fPIC")


class _Model(ctypes.Structure):
    _fields_ = [
        *((name, ctypes.c_void_p) for name in ("points", "normals", "centroids", "corners", "face_start")),
        ("faces", ctypes.c_int64),
    ]


@cache
def _library() -> ctypes.CDLL:
    """The loops, compiled. FileNotFoundError without gcc."""
    source = Path(__file__).with_name("loops.c")
    made = Path(gettempdir()) / "pivrel-loops.so"
    subprocess.run(["gcc", *FLAGS, str(source), "-o", str(made), "-lm"], check=True)
    return ctypes.CDLL(str(made))


def _at(values: np.ndarray) -> ctypes.c_void_p:
    return ctypes.c_void_p(np.ascontiguousarray(values).ctypes.data)


class Loop:
    """A projection of all faces of a surface as its C loop lays it."""

    def __init__(self, surface: Surface, projection: Projection, datum: Datum, sheet: Floats) -> None:
        mesh = surface.mesh
        arrays = (mesh.points, surface.normals, surface.centroids, mesh.corners, mesh.face_start)
        self._held: list[object] = [*arrays, _library()]
        self._model = _Model(*(_at(a) for a in arrays), mesh.face_count)
        self._corners = mesh.corner_count
        self._projection = projection
        self._axes, self._to_datum, self._sheet = (
            np.ascontiguousarray(a) for a in (datum.axes, datum.to_datum, sheet)
        )
        rules = BOX_RULES if isinstance(projection, Box) else PLANAR_RULES
        self._maps = np.ascontiguousarray(composed(rules, datum, sheet))

    def lay(self, threads: int) -> Floats32:
        """(C, 2) float32 mm for every corner."""
        out = np.empty((self._corners, 2), np.float32)
        model, loops, held = ctypes.byref(self._model), _library(), self._projection
        if isinstance(held, Planar):
            loops.planar(model, _at(self._maps), _at(out), threads)
        elif isinstance(held, Box):
            loops.box(model, _at(self._axes), _at(self._maps), _at(out), threads)
        else:
            assert isinstance(held, Cylindrical | Spherical) and held.radius_mm is not None
            is_round = isinstance(held, Spherical)
            along, upward = (
                ctypes.c_double(held.radius_mm),
                ctypes.c_double(held.radius_mm if is_round else 1.0),
            )
            at = (_at(self._to_datum), _at(self._sheet), along, upward)
            loops.turned(model, *at, int(is_round), _at(out), threads)
        return out
