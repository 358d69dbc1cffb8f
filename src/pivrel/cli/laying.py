"""`pivrel apply` and `pivrel measure`: a recipe laid on a model, written and measured."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from pivrel.cli.files import CommandError
from pivrel.cli.models import load_model
from pivrel.cli.recipes import load_look, load_recipe, output_format, write_model
from pivrel.core.arrays import Ints
from pivrel.core.cache import KeepAll
from pivrel.core.failures import RowError
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Piece, Settled
from pivrel.core.measure.figures import Figures
from pivrel.core.schedule import Schedule
from pivrel.formats.imported import Imported
from pivrel.formats.laid import LaidModel, lay_model
from pivrel.recipe import DatumModel, RecipeModel, projection_model


@dataclass(frozen=True)
class Work:
    """A recipe and the model that it is laid on."""

    imported: Imported
    recipe: RecipeModel
    schedule: Schedule

    def measured(self) -> Iterator[tuple[str, Settled, Figures]]:
        """The name of every finish in order, with what was settled and measured of it; those that fail are passed."""
        found = self.schedule.of_each(lambda key: (self.schedule.settled(key), self.schedule.figures(key)))
        for key, (settled, figures) in found.items():
            yield self.schedule.finishes[key].name, settled, figures

    def failed(self) -> dict[str, str]:
        """By their names the finishes that cannot be laid or measured, and why."""
        out = {}
        for key, finish in self.schedule.finishes.items():
            try:
                self.schedule.figures(key)
            except RowError as error:
                out[finish.name] = str(error)
        return out

    def troubles(self) -> Iterator[str]:
        """What could not be solved and lies bare, or not be measured, and why."""
        failed = self.failed()
        for key, finish in self.schedule.finishes.items():
            if told := self.schedule.troubles(key):
                yield f"{finish.name}: not laid: {told}"
            elif finish.name in failed:
                yield f"{finish.name}: {failed[finish.name]}"

    def bare(self) -> tuple[Ints, float]:
        """The faces on which nothing lies at all, and the m² that are bare, beside single sheets too."""
        without = np.flatnonzero(self.schedule.covering().face_finish == BARE)
        return without.astype(np.int32), self.schedule.shown_areas()[1]


def read_work(args: argparse.Namespace) -> Work:
    """The recipe and the model of a command, and which face takes which finish."""
    recipe = load_recipe(args.recipe)
    imported = load_model(args.model, args)
    finishes = {str(row): finish for row, finish in enumerate(recipe.to_core())}
    schedule = Schedule(Surface(imported.mesh), "model", finishes, KeepAll())
    for key, finish in finishes.items():
        # What a recipe picks wrongly is a fault of the recipe, and not one of its finishes' troubles.
        try:
            schedule.asked(key)
        except RowError as error:
            raise CommandError(args.recipe, f"{finish.name}: {error}") from None
    return Work(imported, recipe, schedule)


def laid(args: argparse.Namespace, work: Work) -> LaidModel:
    """The recipe laid on the model, with the images that it names."""
    looks = {key: load_look(args.recipe, material) for key, material in work.recipe.materials.items()}
    by_axis = [f.for_axes(looks) for f in work.recipe.finishes]
    return lay_model(work.schedule, by_axis, work.imported.images, work.imported.image_names)


def piece_json(surface: Surface, piece: Piece) -> dict[str, Any]:
    """Datum and projection with all that was left open, as measured or fitted."""
    return {
        "part": None if piece.part is None else surface.mesh.part_names[piece.part],
        "datum": DatumModel.of(piece.datum).model_dump(mode="json") if piece.projection.has_datum else None,
        "projection": projection_model(piece.projection).model_dump(mode="json", by_alias=True),
        "residual_mm": piece.residual_mm,
    }


def apply(args: argparse.Namespace) -> None:
    """Lays a recipe and writes the result, all of it or nothing."""
    kind = output_format(args.output)
    work = read_work(args)
    model = laid(args, work)
    write_model(args.output, kind, model, work.imported.convention, {})
    for name, _, f in work.measured():
        if not f.faces:
            print(f"{name}: covers nothing")
            continue
        closed = "".join(f", whole repeats by a scale along of {k:.4f}" for k in f.closings)
        print(
            f"{name}: {f.faces} faces, {f.area_m2:.3f} m², {f.true_share:.1%} true to scale, "
            f"{f.smeared_m2:.3f} m² smeared, {f.seams_m:.2f} m unmatched seam{closed}"
        )
    bare, bare_m2 = work.bare()
    if len(bare):
        print(f"bare: {len(bare)} faces, {bare_m2:.3f} m²")
    for sentence in work.troubles():
        print(sentence)
    for note in model.notes:
        print(f"note: {note}")


def measure_command(args: argparse.Namespace) -> None:
    """Prints section 7 of the laying contract, per finish."""
    work = read_work(args)
    finishes = [
        {
            "name": name,
            "faces": f.faces,
            "area_m2": f.area_m2,
            "true_to_scale": f.true_share,
            "least_stretch": f.least_stretch,
            "greatest_stretch": f.greatest_stretch,
            "smeared_m2": f.smeared_m2,
            "mirrored_m2": f.mirrored_m2,
            "unmatched_seam_m": f.seams_m,
            "joints_run_on_m": f.joints_m,
            "worst_gap_mm": f.worst_gap_mm,
            "whole_repeats_k": list(f.closings),
            "not_laid": list(solution.troubles) if (solution := settled.solution) else [],
            "pieces": [piece_json(work.schedule.surface, piece) for piece in settled.pieces],
            "smeared_faces": f.smeared_faces.tolist(),
            "mirrored_faces": f.mirrored_faces.tolist(),
            "unmatched_faces": f.seam_faces.tolist(),
        }
        for name, settled, f in work.measured()
    ]
    finishes += [{"name": name, "faces": 0, "not_laid": [told]} for name, told in work.failed().items()]
    bare, bare_m2 = work.bare()
    out: dict[str, Any] = {
        "finishes": finishes,
        "bare": {"faces": bare.tolist(), "area_m2": bare_m2},
    }
    if args.json:
        print(json.dumps(out, indent=2, ensure_ascii=False))
        return
    for row in finishes:
        print(f"{row['name']}:")
        for key, value in row.items():
            if key != "name" and not isinstance(value, list):
                print(f"  {key}: {value:g}" if isinstance(value, float) else f"  {key}: {value}")
    print(f"bare: {len(bare)} faces, {out['bare']['area_m2']:g} m²")
