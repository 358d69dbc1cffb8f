"""What a bake will make, known before it is made: the charts, the images, their sizes and how true they are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.bake.charts import (
    Charts,
    alone,
    joined,
    pieces_apart,
    together,
    true_faces,
    unfolded,
    upright,
)
from pivrel.core.bake.pages import Pages, arranged
from pivrel.core.bake.splitting import as_triangles
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.errors import InputError
from pivrel.formats.baking.asked import MOST_IMAGES, Asked
from pivrel.formats.baking.cutting import within
from pivrel.formats.found_model import Tell, no_telling
from pivrel.formats.laid import AxisLooks, LaidModel, is_simplified, lay_model
from pivrel.materials.images import Image


@dataclass(frozen=True)
class Plan:
    """Charts on images, and what lies on them.

    model: laid, its faces cut where the charts need it. pages: on the model's surface. baked: the codes of the finishes that
    are baked, in the order of the schedule, and row_of: of each the row in model.finishes.
    """

    asked: Asked
    schedule: Schedule
    looks: Sequence[AxisLooks]
    model: LaidModel
    pages: Pages
    baked: tuple[str, ...]
    rows: tuple[int, ...]

    def said(self) -> list[str]:
        """The images, and how true they are, in sentences."""
        pages, density = self.pages, self.pages.density()
        sizes = dict.fromkeys(pages.sizes)
        counts = ", ".join(
            f"{sum(1 for one in pages.sizes if one == size)} of {size[0]:,} x {size[1]:,} px"
            for size in sizes
        )
        count = len(pages.sizes)
        out = [
            f"{count} image{'s' if count > 1 else ''} a channel: {counts}, {pages.filled():.0%} filled; "
            f"{len(pages.charts.shapes):,} pieces at {self.asked.px_per_m:g} px/m"
        ]
        if density.true_share < 0.9995:
            out.append(
                f"{density.true_share:.1%} of the surface within 2% of that density, 99% of it has "
                f"{density.least * self.asked.px_per_m:,.0f} to {density.greatest * self.asked.px_per_m:,.0f} px/m: "
                "what is bent both ways cannot lie flat"
            )
        return out


def chosen(schedule: Schedule, asked: Asked) -> tuple[str, ...]:
    """The finishes that are baked: those that were asked for, or all that files cannot hold otherwise."""
    if asked.finishes is not None:
        return tuple(key for key in schedule.keys if key in asked.finishes)
    return tuple(key for key, finish in schedule.finishes.items() if is_simplified(finish))


def planned(
    schedule: Schedule,
    looks: Sequence[AxisLooks],
    source: tuple[Mapping[str, Image], Mapping[str, str]],
    asked: Asked,
    tell: Tell = no_telling,
) -> Plan:
    """The plan of a bake. looks, source: as `lay_model` takes them. InputError where there is nothing to bake, or far too
    much."""
    asked.check()
    baked = tuple(key for key in chosen(schedule, asked) if len(schedule.drawn(key)))
    if not baked:
        raise InputError(
            "no finish needs a bake: each is held by images that repeat; name those to be baked nonetheless"
            if asked.finishes is None
            else "none of the finishes that were asked for lies on a face"
        )
    area = sum(float(schedule.surface.face_areas[schedule.drawn(key)].sum()) for key in baked) / 1e6
    pixels = area * asked.px_per_m**2
    most = MOST_IMAGES * asked.size**2
    if pixels > most:
        fits = asked.px_per_m * (most / pixels) ** 0.5 * 0.8
        raise InputError(
            f"{area:,.1f} m² at {asked.px_per_m:g} px/m make {pixels / asked.size**2:,.0f} images of "
            f"{asked.size:,} x {asked.size:,} px and more; ask for {fits:,.0f} px/m or fewer"
        )
    tell("laying the finishes", 0.0)
    model = lay_model(schedule, looks, *source, whole=baked)
    rows = tuple(schedule.keys.index(key) for key in baked)
    tell("unfolding", 0.3)
    model, charts = _charted(schedule, model, baked, rows, asked)
    tell("arranging the pieces", 0.8)
    model, charts = within(model, charts, (asked.size - 2 * asked.padding_px) / asked.px_per_mm)
    pages = arranged(charts, asked.px_per_mm, asked.size, asked.padding_px)
    if len(pages.sizes) > MOST_IMAGES:
        raise InputError(f"that makes {len(pages.sizes)} images; ask for fewer px/m or larger images")
    return Plan(asked, schedule, looks, model, pages, baked, rows)


def _charted(
    schedule: Schedule, model: LaidModel, baked: Sequence[str], rows: Sequence[int], asked: Asked
) -> tuple[LaidModel, Charts]:
    """The charts of all that is baked: a finish's own pieces where they lie true, everything else by xatlas."""
    surface = model.surface
    left = np.isin(model.face_finish, rows)
    found = []
    for key, row in zip(baked, rows, strict=True):
        finish = schedule.finishes[key]
        if asked.unfold == "anew" or finish.projection.blends:
            continue
        places = model.st * np.array(finish.scale)
        solid = (model.face_finish == row) & (surface.face_areas > 0)
        faces = true_faces(surface, np.flatnonzero(solid).astype(np.int32), places)
        if len(faces):
            pieces, flat = pieces_apart(surface, faces, places)
            found.append((pieces, flat))
            left[faces[flat[pieces.piece]]] = False
    own = together(surface, found)
    split = as_triangles(surface, left)
    parted = Surface(split.mesh)
    model = replace(
        model,
        surface=parted,
        face_finish=model.face_finish[split.face],
        st=model.st[split.corner],
        face_origin=model.face_origin[split.face],
    )
    own = Charts(parted, own.places[split.corner], own.chart[split.face], own.shapes)
    return model, upright(joined(own, _unfolded(parted, np.flatnonzero(left[split.face]).astype(np.int32))))


def _unfolded(surface: Surface, faces: Ints) -> Charts:
    """Charts of triangles, none over itself."""
    faces = faces[surface.face_areas[faces] > 0]
    if not len(faces):
        return together(surface, [])
    pieces, flat = pieces_apart(surface, faces, unfolded(surface, faces))
    over = pieces.faces[~flat[pieces.piece]]
    rest = together(surface, [(pieces, flat)])
    return joined(rest, alone(surface, over)) if len(over) else rest
