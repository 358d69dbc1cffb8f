"""What a process loads while it waits for its job: imports first, then trials, then files."""

from __future__ import annotations

from collections.abc import Callable

from pivrel.core.laying import Finish
from pivrel.core.picks import All
from pivrel.core.sheet import Material
from pivrel.jobs import read_model, try_model, write_model


def prepare(go_on: Callable[[], bool]) -> None:
    """Loads as much as there is time for; go_on: whether there is more."""
    surface = read_model.prepare()
    finish = Finish("prepared", Material("prepared", repeat_mm=(100.0, 100.0)), All())
    for module in (try_model, write_model):
        if not go_on():
            return
        module.prepare(surface, finish)
