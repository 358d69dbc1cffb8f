"""A project's finishes as the core lays them, kept as long as nothing that they depend on changes."""

from __future__ import annotations

import hashlib
import json
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Any, TypeVar

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Finish, cover, datum_of, fit_datum, lay
from pivrel.core.measure.figures import Figures, measure
from pivrel.core.picks import as_faces, resolve
from pivrel.core.sheet import Material
from pivrel.recipe import DatumModel, FinishModel
from pivrel.store.projects import Contents

T = TypeVar("T")

COMPUTING = threading.RLock()
"""Held around the core's kernels: they use all cores themselves and must not run side by side."""


class Recent:
    """The values made last, by key, at most `room` bytes of them."""

    def __init__(self, room: int) -> None:
        self.room, self.used = room, 0
        self.values: OrderedDict[str, tuple[Any, int]] = OrderedDict()

    def get(self, key: str, make: Callable[[], T], size: Callable[[T], int]) -> T:
        """The value of a key, made where it is not there; one thread at a time makes values."""
        with COMPUTING:
            if key in self.values:
                self.values.move_to_end(key)
                value: T = self.values[key][0]
                return value
            value = make()
            self.values[key] = (value, size(value))
            self.used += size(value)
            while self.used > self.room and len(self.values) > 1:
                _, (_, dropped) = self.values.popitem(last=False)
                self.used -= dropped
            return value


def mesh_bytes(mesh: Mesh) -> int:
    """Roughly what a mesh and all that is derived from it take in memory."""
    return mesh.points.nbytes * 2 + mesh.corner_count * 80 + mesh.face_count * 60


SURFACES = Recent(4 << 30)
COVERS = Recent(256 << 20)
LAYINGS = Recent(512 << 20)
FIGURES = Recent(64 << 20)


def surface_of(sha256: str, load: Callable[[], Mesh]) -> Surface:
    """The surface of a stored mesh."""
    return SURFACES.get(sha256, lambda: Surface(load()), lambda s: mesh_bytes(s.mesh))


def _digest(*what: Any) -> str:
    return hashlib.sha256(json.dumps(what, sort_keys=True).encode()).hexdigest()[:20]


@lru_cache(maxsize=1024)
def _validated(text: str) -> FinishModel:
    """A stored finish; most are the same from one edit to the next."""
    return FinishModel.model_validate_json(text)


@lru_cache(maxsize=1024)
def _pick_digest(text: str) -> str:
    """A name for the pick of a stored finish."""
    return _digest(json.loads(text)["pick"])


def fitted(surface: Surface, body: dict[str, Any]) -> DatumModel:
    """The datum fitted to the pick and projection of a finish body."""
    model = FinishModel.model_validate(body)
    with COMPUTING:
        faces = as_faces(resolve(model.pick.to_core(), surface))
        return DatumModel.of(fit_datum(surface, faces, model.projection.to_core()))


@dataclass(frozen=True)
class Covering:
    """Which face takes which finish (F,), the faces of each, and how much that is."""

    face_finish: Ints
    faces: tuple[Ints, ...]
    areas_m2: tuple[float, ...]
    bare_m2: float


@dataclass(frozen=True)
class LaidProject:
    """The finishes of one revision of a project on its surface."""

    mesh: str
    surface: Surface
    contents: Contents

    def material(self, key: str) -> Material:
        """A material of the project as the core knows it."""
        body = self.contents.materials[key].body
        return Material(body["name"], tuple(body["repeat_mm"]), body["grain_deg"] or 0.0)

    def finish(self, key: str) -> Finish:
        """A finish as the core knows it."""
        document = self.contents.finishes[key]
        return _validated(document.text).to_core(self.material(document.body["material"]))

    @cached_property
    def keys(self) -> list[str]:
        """The finishes' codes in the order of the schedule."""
        return list(self.contents.finishes)

    @cached_property
    def cover_key(self) -> str:
        """Changes where a face may have changed its finish."""
        return _digest(self.mesh, [_pick_digest(d.text) for d in self.contents.finishes.values()])

    def covering(self) -> Covering:
        """Which face takes which finish."""

        def make() -> Covering:
            picks = [self.finish(key).pick for key in self.keys]
            face_finish = cover(self.surface, picks)
            order = np.argsort(face_finish, kind="stable").astype(np.int32)
            bounds = np.searchsorted(face_finish[order], np.arange(len(picks) + 1))
            faces = tuple(order[a:b] for a, b in pairwise(bounds))
            # Row 0 are the bare faces.
            bare, *areas = (
                np.bincount(face_finish + 1, weights=self.surface.face_areas, minlength=len(picks) + 1) / 1e6
            ).tolist()
            return Covering(face_finish, faces, tuple(areas), bare)

        return COVERS.get(self.cover_key, make, lambda c: c.face_finish.nbytes * 2)

    def faces(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish covers, ascending."""
        return self.covering().faces[self.keys.index(key)]

    def area_m2(self, key: str) -> float:
        """The area that a finish covers."""
        return self.covering().areas_m2[self.keys.index(key)]

    def laying_key(self, key: str) -> str:
        """Changes where the (s', t') of a finish may have changed."""
        body = self.contents.finishes[key].body
        placed = {k: v for k, v in body.items() if k not in ("name", "material", "pick")}
        # Of the material only its grain moves the sheet; its repeat is for whoever shows it.
        grain = self.material(body["material"]).grain_deg if body["grain_deg"] is not None else 0
        return _digest(self.cover_key, key, placed, grain)

    def laying(self, key: str) -> Floats32:
        """(K, 2) float32 (s', t') in mm for the corners of the finish's faces, in face order."""

        def make() -> Floats32:
            finish = self.finish(key)
            return lay(self.surface, finish, self.faces(key), datum_of(self.surface, finish), np.float32)

        return LAYINGS.get(self.laying_key(key), make, lambda st: st.nbytes)

    def figures(self, key: str) -> Figures:
        """What is measured of a finish."""

        def make() -> Figures:
            finish = self.finish(key)
            return measure(self.surface, finish, self.faces(key), datum_of(self.surface, finish))

        size = self.material(self.contents.finishes[key].body["material"]).repeat_mm
        return FIGURES.get(
            _digest(self.laying_key(key), size),
            make,
            lambda f: 1000 + f.seam_faces.nbytes + f.smeared_faces.nbytes,
        )

    def bare(self) -> Ints:
        """(K,) int32 ids of the faces without a finish."""
        return np.flatnonzero(self.covering().face_finish == BARE).astype(np.int32)
