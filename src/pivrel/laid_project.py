"""A project's finishes as the core lays them, kept as long as nothing that they depend on changes."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Mapping
from contextlib import AbstractContextManager
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Any

import numpy as np

from pivrel.caching import Recent
from pivrel.computing import COMPUTING, long_work
from pivrel.core.arrays import Floats, Floats32, Ints
from pivrel.core.finish import Finish
from pivrel.core.fitting import BEST, Aim, Fit, fit
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import (
    BARE,
    Layers,
    Settled,
    cover,
    lay,
    layers,
    settle,
    settle_pieces,
    with_sheets,
)
from pivrel.core.measure.faces import FaceStretch, face_stretch
from pivrel.core.measure.figures import Figures, left_areas, measure, seams_of, shown_by_face
from pivrel.core.measure.seams import Seams
from pivrel.core.picks import as_faces, resolve
from pivrel.core.sheet import Material
from pivrel.formats.laid import LaidModel, Look, lay_model
from pivrel.materials.images import Image
from pivrel.recipe import DatumModel, FinishModel, SheetModel
from pivrel.store.projects import Contents, Document


def mesh_bytes(mesh: Mesh) -> int:
    """Roughly what a mesh and all that is derived from it take in memory."""
    return mesh.points.nbytes * 2 + mesh.corner_count * 80 + mesh.face_count * 60


SURFACES = Recent(4 << 30, COMPUTING)
COVERS = Recent(256 << 20, COMPUTING)
LAYINGS = Recent(512 << 20, COMPUTING)
FIGURES = Recent(64 << 20, COMPUTING)
PIECES = Recent(64 << 20, COMPUTING)
SHEETS = Recent(128 << 20, COMPUTING)
HELD = Recent(128 << 20, COMPUTING)
LOOKS = Recent(256 << 20, COMPUTING)


def surface_of(sha256: str, load: Callable[[], Mesh]) -> Surface:
    """The surface of a stored mesh."""
    return SURFACES.get(sha256, lambda: Surface(load()), lambda s: mesh_bytes(s.mesh))


def _digest(*what: Any) -> str:
    return hashlib.sha256(json.dumps(what, sort_keys=True).encode()).hexdigest()[:20]


READ = Recent(32 << 20)


def _validated(text: str) -> FinishModel:
    """A stored finish; most are the same from one edit to the next."""
    return READ.get(text, lambda: FinishModel.model_validate_json(text), lambda _: 4 * len(text) + 4000)


def _pick_digest(document: Document) -> str:
    """A name for the pick of a stored finish."""
    return READ.get(
        f"pick {document.text}", lambda: _digest(document.body["pick"]), lambda _: len(document.text) + 200
    )


def fitted(surface: Surface, body: dict[str, Any], aim: Aim = BEST) -> DatumModel:
    """The datum fitted to the pick and projection of a finish body."""
    return DatumModel.of(fit_of(surface, FinishModel.model_validate(body), aim).datum)


LARGE = 50_000
"""Triangles from which a fit may take a second."""


def lane_for(surface: Surface) -> AbstractContextManager[None]:
    """Where a fit to this surface is computed: beside the short work, where the model is large."""
    return long_work() if len(surface.triangles) > LARGE else COMPUTING


def fit_of(surface: Surface, model: FinishModel, aim: Aim = BEST) -> Fit:
    """A fit to the pick and projection of a finish, with how well it does."""
    with lane_for(surface):
        faces = as_faces(resolve(model.pick.to_core(), surface))
        return fit(surface, faces, model.projection.to_core(), aim)


def sheet_of(body: dict[str, Any]) -> Material:
    """A material of a project or of the library as the core knows it."""
    return SheetModel(**{name: body[name] for name in SheetModel.model_fields if name in body}).to_core()


def _closes(projection: dict[str, Any]) -> bool:
    return bool(projection.get("whole_repeats"))


@dataclass(frozen=True)
class Covering:
    """What a click meets on each face (F,), and what lies there, single sheets told from those that tile.

    drawn: the faces that each finish is laid on: those that it covers and, where it does not tile, those
    that its single sheet lies over.
    """

    face_finish: Ints
    layers: Layers
    drawn: tuple[Ints, ...]
    areas_m2: tuple[float, ...]
    """Of the bare faces, and then of each finish, where no single sheet lies over them."""


@dataclass(frozen=True)
class LaidProject:
    """The finishes of one revision of a project on its surface."""

    mesh: str
    surface: Surface
    contents: Contents

    def material(self, key: str) -> Material:
        """A material of the project as the core knows it."""
        return sheet_of(self.contents.materials[key].body)

    def stated(self, key: str) -> FinishModel:
        """A finish as the recipe states it."""
        return _validated(self.contents.finishes[key].text)

    def finish(self, key: str) -> Finish:
        """A finish as the core knows it."""
        return self.stated(key).to_core(self.material)

    def as_written(
        self,
        looks: Mapping[str, Look],
        images: Mapping[str, Image] | None = None,
        image_names: Mapping[str, str] | None = None,
    ) -> LaidModel:
        """Everything laid as files hold it; looks by material, images of the source materials by hash."""
        return lay_model(
            self.surface,
            [self.finish(key) for key in self.keys],
            [self.stated(key).for_axes(looks) for key in self.keys],
            images,
            image_names,
            lambda row: self.settled(self.keys[row]),
        )

    @cached_property
    def keys(self) -> list[str]:
        """The finishes' codes in the order of the schedule."""
        return list(self.contents.finishes)

    def _slot(self, what: str, key: str) -> str:
        """What is kept of a finish in a few versions, whatever edits it goes through."""
        return f"{what} {key} {self.mesh}"

    @cached_property
    def cover_key(self) -> str:
        """Changes where a face may have changed its finish."""
        return _digest(
            self.mesh,
            [(_pick_digest(d), d.body.get("tile", True)) for d in self.contents.finishes.values()],
        )

    def covering(self) -> Covering:
        """Which face takes which finish."""

        def make() -> Covering:
            finishes = [self.finish(key) for key in self.keys]
            picks = [finish.pick for finish in finishes]
            face_finish = cover(self.surface, picks)
            tiled = all(f.tile for f in finishes)
            over = Layers(face_finish, {}) if tiled else layers(self.surface, finishes)
            areas = _areas_by_row(over.base, self.surface.face_areas, len(picks))
            drawn = list(_by_row(over.base, len(picks)))
            for row, mask in over.singles.items():
                drawn[row] = as_faces(mask)
            return Covering(face_finish, over, tuple(drawn), areas)

        return COVERS.get(self.cover_key, make, lambda c: c.face_finish.nbytes * 3, self.mesh)

    def drawn(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish is laid on, ascending."""
        return self.covering().drawn[self.keys.index(key)]

    def shown_areas(self) -> tuple[dict[str, float], float]:
        """m² that show each finish, and m² that are bare.

        A single sheet takes no more than the sheet itself off what it lies over.
        """
        covering = self.covering()
        if not covering.layers.singles:
            return dict(zip(self.keys, covering.areas_m2[1:], strict=True)), covering.areas_m2[0]
        singles = [self.keys[row] for row in covering.layers.singles]
        out = {key: float(self._shown_by_face(key).sum()) / 1e6 for key in singles}
        by_row = _areas_by_row(covering.layers.base, self._left_by_face, len(self.keys))
        for row, key in enumerate(self.keys):
            out.setdefault(key, by_row[row + 1])
        return out, by_row[0]

    @cached_property
    def _left_by_face(self) -> Floats:
        """(F,) mm² of each face beside the single sheets that lie on it."""
        singles = [self.keys[row] for row in self.covering().layers.singles]
        return left_areas(self.surface, ((self.drawn(key), self._shown_by_face(key)) for key in singles))

    def _shown_by_face(self, key: str) -> Floats:
        """(K,) mm² of each face that a finish is laid on which show it."""

        def make() -> Floats:
            return shown_by_face(self.surface, self.finish(key), self.drawn(key), self.settled(key))

        size = self.material(self.contents.finishes[key].body["material"]).repeat_mm
        looks = _digest("shown", self.laying_key(key), size)
        return LOOKS.get(looks, make, lambda shown: shown.nbytes, self._slot("shown", key))

    def laying_key(self, key: str) -> str:
        """Changes where the (s', t') of a finish may have changed."""
        # Rows of one pick may change places without a change of what covers what.
        row = self.keys.index(key)
        return _digest(self.cover_key, row, key, self._laid_by(key))

    def _laid_by(self, key: str) -> list[Any]:
        """All of a finish and its material that moves the sheet on its faces."""
        body, stated = self.contents.finishes[key].body, self.stated(key)
        placed = {k: v for k, v in body.items() if k not in ("name", "material", "pick")}
        # Of a material only its grain moves the sheet, its repeat where that has to close, and its joints
        # where pieces keep to them.
        by_grain = body["grain_deg"] is not None or stated.grain is not None
        grain = [self.material(m).grain_deg for m in stated.material_ids] if by_grain else 0
        own = self.material(body["material"])
        closing = own.repeat_mm if _closes(body["projection"]) else 0
        varied = repr(own) if stated.variation is not None else 0
        return [placed, grain, closing, varied]

    def _held_key(self, key: str) -> str:
        return _digest(self.mesh, _pick_digest(self.contents.finishes[key]))

    def held(self, key: str) -> Ints:
        """(K,) int32 ids of the faces that a finish's pick holds, covered by later rows or not."""
        return HELD.get(
            self._held_key(key),
            lambda: as_faces(resolve(self.finish(key).pick, self.surface)),
            lambda faces: faces.nbytes,
            self._slot("held", key),
        )

    def settled(self, key: str) -> Settled:
        """Datum and measured sizes of a finish, and how the sheet lies on each of its faces."""
        finish = self.finish(key)
        if finish.is_one_sheet:
            return self._pieces(key)
        return SHEETS.get(
            _digest("sheets", self._held_key(key), self._laid_by(key)),
            lambda: with_sheets(self.surface, finish, self.held(key), self._pieces(key)),
            lambda settled: 8 * len(self.held(key)) + 1000,
            self._slot("sheets", key),
        )

    def _pieces(self, key: str) -> Settled:
        document = self.contents.finishes[key]
        told = [document.body[k] for k in ("projection", "datum")]
        told += [document.body.get("datum_for"), self.material(document.body["material"]).repeat_mm]
        return PIECES.get(
            _digest(self._held_key(key), told),
            lambda: settle_pieces(self.surface, self.finish(key), self.held(key)),
            lambda settled: (
                400 * len(settled.pieces) + (0 if settled.of_face is None else settled.of_face.nbytes)
            ),
            self._slot("pieces", key),
        )

    def preview(self, key: str, finish: Finish) -> Floats32:
        """The laying of a finish that is being changed in datum, projection or placement; not kept."""
        with COMPUTING:
            settled = settle(self.surface, finish, self.held(key))
            return lay(self.surface, finish, self.drawn(key), settled, np.float32)

    def laying(self, key: str) -> Floats32:
        """(K, 2) float32 (s', t') in mm for the corners of the faces that it is laid on, in face order."""

        def make() -> Floats32:
            return lay(self.surface, self.finish(key), self.drawn(key), self.settled(key), np.float32)

        return LAYINGS.get(self.laying_key(key), make, lambda st: st.nbytes, self._slot("laying", key))

    def figures(self, key: str) -> Figures:
        """What is measured of a finish."""

        def make() -> Figures:
            return measure(self.surface, self.finish(key), self.drawn(key), self.settled(key))

        size = self.material(self.contents.finishes[key].body["material"]).repeat_mm
        return FIGURES.get(
            _digest(self.laying_key(key), size),
            make,
            lambda f: 1000 + f.seam_faces.nbytes + f.smeared_faces.nbytes,
            self._slot("figures", key),
        )

    def face_stretch(self, key: str) -> FaceStretch:
        """How truly each of the faces is laid that a finish covers."""
        return LOOKS.get(
            _digest("stretch", self.laying_key(key)),
            lambda: face_stretch(self.surface, self.drawn(key), self.settled(key)),
            lambda found: 3 * found.low.nbytes,
            self._slot("stretch", key),
        )

    def seams(self, key: str) -> Seams:
        """The edges within a finish, and where the pattern breaks."""
        size = self.material(self.contents.finishes[key].body["material"]).repeat_mm
        return LOOKS.get(
            _digest("seams", self.laying_key(key), size),
            lambda: seams_of(self.surface, self.finish(key), self.drawn(key), self.settled(key)),
            lambda found: 4 * found.gap_mm.nbytes,
            self._slot("seams", key),
        )

    def bare(self) -> Ints:
        """(K,) int32 ids of the faces without a finish, or with a single sheet that leaves some of them bare."""
        covering = self.covering()
        if not covering.layers.singles:
            return as_faces(covering.face_finish == BARE)
        partly = self._left_by_face > WHOLLY * self.surface.face_areas
        return as_faces((covering.layers.base == BARE) & (partly | (covering.face_finish == BARE)))


WHOLLY = 1e-3
"""A face of which a smaller share is left bare counts as covered."""


def _areas_by_row(face_row: Ints, areas: Floats, rows: int) -> tuple[float, ...]:
    """m² of the bare faces, and then of each row; areas: (F,) mm²."""
    return tuple((np.bincount(face_row + 1, weights=areas, minlength=rows + 1) / 1e6).tolist())


def _by_row(face_row: Ints, rows: int) -> tuple[Ints, ...]:
    """The faces of each row, ascending."""
    order = np.argsort(face_row, kind="stable").astype(np.int32)
    bounds = np.searchsorted(face_row[order], np.arange(rows + 1))
    return tuple(order[a:b] for a, b in pairwise(bounds))
