"""Bakes between their plan and their files."""

from __future__ import annotations

import json
import time
from collections.abc import Mapping

from pivrel.errors import InputError
from pivrel.jobs.baking import MESH, SOURCES, BakeRequest, Baking, Planned
from pivrel.materials.images import Image


class Bake:
    """A bake from its plan until its files were fetched. asked: when somebody last asked for it."""

    def __init__(self, request: BakeRequest, files: Mapping[str, bytes]) -> None:
        """Begins to plan. files: as `baking_files` puts them together."""
        self.request = request
        self.asked = time.monotonic()
        self._plan = Baking("plan", request, files)
        self._bake: Baking | None = None

    @property
    def job(self) -> Baking:
        """The job at work, or the last that was."""
        return self._bake or self._plan

    def plan(self) -> Planned | None:
        """What the plan told, None as long as it is not there."""
        return self._plan.planned() if self._plan.state == "ready" else None

    def begin(self) -> None:
        """Bakes by the plan; a second time does nothing. InputError where there is no plan yet."""
        if self._plan.state != "ready":
            raise InputError("the bake is not planned yet")
        if self._bake is None:
            self._bake = Baking("bake", self.request, self._plan.source)

    def files(self) -> dict[str, bytes]:
        """What was baked, by file name. InputError where it is not."""
        if self._bake is None:
            raise InputError("the bake has not begun")
        return self._bake.result()

    def notes(self) -> tuple[str, ...]:
        """What is to be said of the files; nothing as long as there are none."""
        return self._bake.notes() if self._bake and self._bake.state == "ready" else ()

    def end(self) -> None:
        """Stops it and removes its files."""
        if self._bake:
            self._bake.stop()
        self._plan.stop()


def baking_files(
    recipe: Mapping[str, bytes], mesh: bytes, images: Mapping[str, Image], names: Mapping[str, str]
) -> dict[str, bytes]:
    """Everything that a bake is made from, by file name. images, names: of the model's own materials, by content hash."""
    stated = {"images": {sha256: image.mime for sha256, image in images.items()}, "names": dict(names)}
    own = {sha256: image.data for sha256, image in images.items()}
    return {**recipe, MESH: mesh, SOURCES: json.dumps(stated).encode(), **own}
