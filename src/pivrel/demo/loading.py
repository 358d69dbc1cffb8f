"""Compiled kernels are read from the disk when they are first used: a server uses those of the first minute as it begins."""

from __future__ import annotations

import numpy as np

from pivrel.core import picks
from pivrel.core.cache import KeepAll
from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.projection import Box, Cylindrical, Planar, Triplanar
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from pivrel.core.view.eye import Eye
from pivrel.core.view.outline import within
from pivrel.core.view.sight import look
from pivrel.demo import handle
from pivrel.project.computing import kernels_may_meet

FROM_THE_FRONT = np.array(
    [[0.005, 0, 0, 0], [0, 0, 0.005, 0], [0, 0.0002, 0, 0], [0, 0, 0, 1]], dtype=np.float64
)
"""The matrix of a view without perspective."""

SIZE = (320, 200)
RECTANGLE = np.array([[10.0, 10.0], [310.0, 10.0], [310.0, 190.0], [10.0, 190.0]])


def load() -> None:
    """Picks in a small model, lays it and measures it, as an artist does first; not where kernels must not meet."""
    if not kernels_may_meet():
        return
    surface = Surface(handle.build())
    find_faults(surface)
    surface.patches()
    eye, drawn = Eye(FROM_THE_FRONT, SIZE, None), np.ones(surface.mesh.face_count, bool)
    look(surface, eye, drawn)
    for through, whole in ((False, False), (True, False), (False, True)):
        within(surface, eye, RECTANGLE, drawn, through, whole)
    sheet = Material("sheet", repeat_mm=(900.0, 600.0))
    for projection in (Planar(), Box(), Cylindrical(), Triplanar()):
        finishes = {"F1": Finish("sheet", sheet, picks.All(), projection)}
        schedule = Schedule(surface, "loading", finishes, KeepAll())
        schedule.laying("F1")
        schedule.figures("F1")
