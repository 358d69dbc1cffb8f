"""A finish: one material laid on a pick through one projection; a row of the schedule."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.cells import Cells
from pivrel.core.coats.coat import Coat
from pivrel.core.coats.masks.nearness import Near
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.coats.tones import AS_IT_IS, Spread, Tone, TonedFaces
from pivrel.core.content_key import content_key
from pivrel.core.geometry.frames import Datum
from pivrel.core.picks import Pick
from pivrel.core.projection import Box, Projection, Solved
from pivrel.core.sheet import Material, Placement, turn_for_grain
from pivrel.core.sheet.grain import SHEET, GrainRule
from pivrel.core.sheet.tie import Tie, TieBy
from pivrel.core.sheet.variation import Variation

AXES = (0, 1, 2)

BOX = Box()

DatumFor = Literal["pick", "part", "board", "side"]
"""What has a datum of its own: the pick as a whole, each part, each connected piece, or each flat side."""


@dataclass(frozen=True)
class Adjustment:
    """How some faces of a finish lie otherwise than the rest; several on one face add up.

    turn_deg and offset_mm are added to the finish's own; mirrored flips the sheet along s. size: how large they lie on the
    sheet, 1 is true; below that the material shows larger.
    """

    pick: Pick
    turn_deg: float = 0.0
    offset_mm: tuple[float, float] = (0.0, 0.0)
    mirrored: bool = False
    size: float = 1.0


@dataclass(frozen=True)
class Finish:
    """One material laid on a pick through one projection: a row of the schedule.

    Exactly one of turn_deg and grain_deg says how the sheet is turned; with a grain rule turn_deg counts
    from there. Without a datum the projection is fitted to the pick; datum_for "part" fits it to what the
    pick holds of every part, "board" to the tightest box of every connected piece, "side" to every flat side. tile False
    shows the sheet once, and around it what lies under it. axis_materials are a triplanar finish's own materials
    for x, y and z, None for `material`. adjust: how some of its faces lie otherwise. run_on: the pattern
    runs on across as many edges as can be. variation: each piece takes its own place on the sheet. on False
    lays it nowhere: what lies beneath shows. tie: places of the sheet that fall on places of the model, once it lies as
    all the rest says, and tie_by: what that may do to it. material_key: what the images of its material are known by.
    tone: how it looks beside its images; toned: faces that look otherwise; spread: how its pieces differ. cells: its sheet
    cut into random patches. coats: what lies over it, first to last. unread: what was kept of it and cannot be read, for
    which it is not laid.
    """

    name: str
    material: Material
    pick: Pick
    projection: Projection = BOX
    datum: Datum | None = None
    turn_deg: float | None = 0.0
    grain_deg: float | None = None
    offset_mm: tuple[float, float] = (0.0, 0.0)
    scale: tuple[float, float] = (1.0, 1.0)
    tile: bool = True
    datum_for: DatumFor = "pick"
    axis_materials: tuple[Material | None, Material | None, Material | None] = (None, None, None)
    grain: GrainRule = SHEET
    adjust: tuple[Adjustment, ...] = ()
    run_on: bool = False
    variation: Variation | None = None
    on: bool = True
    tie: tuple[Tie, ...] = ()
    tie_by: TieBy = "turn"
    material_key: str = ""
    tone: Tone = AS_IT_IS
    toned: tuple[TonedFaces, ...] = ()
    spread: Spread | None = None
    cells: Cells | None = None
    coats: tuple[Coat, ...] = ()
    unread: str = ""

    @property
    def sheets_over(self) -> tuple[SheetOver, ...]:
        """Every sheet that its coats and their masks show, as they are stated."""
        return tuple(sheet for coat in self.coats for sheet in coat.sheets)

    @property
    def near_masks(self) -> tuple[Near, ...]:
        """The masks of its coats that go by the distance to lines, as they are stated, each once."""
        masks = (mask for coat in self.coats for mask in coat.where.all)
        return tuple(dict.fromkeys(mask for mask in masks if isinstance(mask, Near)))

    @property
    def placement(self) -> Placement:
        return self._placed(self.material)

    def _placed(self, material: Material) -> Placement:
        turn = (
            turn_for_grain(self.grain_deg, material) if self.grain_deg is not None else self.turn_deg or 0.0
        )
        return Placement(turn, self.offset_mm, self.scale)

    def material_of(self, axis: int) -> Material:
        """The material that a triplanar finish lays along an axis."""
        return self.axis_materials[axis] or self.material

    @property
    def sheets(self) -> Floats:
        """(3, 2, 3) raw to final for each axis: a stated grain turns each axis' material its own way."""
        return np.stack([self._placed(self.material_of(axis)).matrix for axis in AXES])

    @property
    def is_one_sheet(self) -> bool:
        """Whether one turn and one offset serve all of its faces."""
        return self.grain.along == "sheet" and not (self.adjust or self.run_on or self.variation or self.tie)

    @cached_property
    def pick_key(self) -> str:
        """Changes where the faces that it holds do."""
        return content_key(self.pick, self.on)

    @cached_property
    def solved_key(self) -> str:
        """Changes where a solution over its region may have changed, and with it the faces that could be laid.

        Empty where nothing is solved.
        """
        if not isinstance(self.projection, Solved):
            return ""
        return content_key(self.projection_key, self.material.repeat_mm if self.projection.closes else None)

    @cached_property
    def cover_key(self) -> str:
        """Changes where the faces may have changed that it covers, or what lies beneath it."""
        return f"{self.pick_key} {self.tile} {self.solved_key}"

    @cached_property
    def projection_key(self) -> str:
        """Changes where the projection does; a short name for one with long strokes."""
        return content_key(self.projection)

    @cached_property
    def laid_key(self) -> str:
        """Changes where the sheet may lie otherwise on the faces of the finish.

        Of a material only its grain moves the sheet, its repeat where that has to close, and its joints where pieces
        keep to them.
        """
        by_grain = self.grain_deg is not None or self.grain.along != "sheet"
        return content_key(
            self._unplaced, self.turn_deg, self.grain_deg, self.offset_mm, self.scale,
            [self.material_of(axis).grain_deg for axis in AXES] if by_grain else None,
        )  # fmt: skip

    @cached_property
    def tried_key(self) -> str:
        """Changes where it may be laid that could not be, or the other way round, on the same surface."""
        return content_key(self.pick_key, self.solved_key, self.raw_key or self.laid_key, self.unread)

    @cached_property
    def raw_key(self) -> str | None:
        """Changes where more than one turn, one offset and one scale of the sheet may have; None where these are not all.

        Whoever has the corners laid by one placement can then tell where another one lays them.
        """
        return content_key(self._unplaced) if self.is_one_sheet and not self.projection.blends else None

    @property
    def _unplaced(self) -> list[object]:
        """What moves the sheet on the faces besides its turn, offset and scale."""
        return [
            self.projection_key, self.datum, self.datum_for, self.tile, self.grain, self.adjust, self.run_on,
            self.variation, self.tie, self.tie_by, self.material.repeat_mm if self.projection.closes or self.tie else None,
            self.material if self.variation is not None else None,
        ]  # fmt: skip
