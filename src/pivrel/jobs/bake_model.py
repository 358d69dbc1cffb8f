"""The work of a bake: plans what a recipe makes of a mesh, or bakes it by the plan.

The source folder holds recipe.json and the images that it names, mesh.npz, and sources.json with the images of the model's
own materials. A plan is left there for the bake; the job's folder takes plan.json, or done.json and out/.
"""

from __future__ import annotations

import json
import pickle
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from pivrel.core.cache import KeepAll
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.formats.baking.asked import Asked
from pivrel.formats.baking.bake import bake
from pivrel.formats.baking.plan import Plan, planned
from pivrel.formats.bundle import Folder
from pivrel.formats.convention import Convention
from pivrel.formats.laid import Look
from pivrel.formats.recipe_looks import look_of
from pivrel.formats.registry import writable
from pivrel.jobs.baking import DONE, MESH, OUT, PLAN, RECIPE, SOURCES, Planned
from pivrel.jobs.line import Line
from pivrel.materials.images import Image
from pivrel.recipe import read_recipe
from pivrel.store.meshes import read_mesh

CHARTS = "charts.pickle"
"""Charts and pages of a plan, for the bake that follows; written and read by this module alone."""


def work(folder: Path, request: dict[str, Any], line: Line) -> None:
    """Plans or bakes, as the request says."""
    source = Path(request["folder"])
    line.tell("reading the model", 0.0)
    recipe = read_recipe((source / RECIPE).read_bytes())
    looks = {key: look_of(Folder(source), material) for key, material in recipe.materials.items()}
    finishes = {str(row): finish for row, finish in enumerate(recipe.to_core())}
    surface = Surface(read_mesh((source / MESH).read_bytes()))
    schedule = Schedule(surface, "model", finishes, KeepAll())
    by_axis = [finish.for_axes(looks) for finish in recipe.finishes]
    asked = _asked(request["asked"])
    if request["kind"] == "plan":
        plan = planned(schedule, by_axis, _sources(source), asked, line.tell)
        (source / CHARTS).write_bytes(pickle.dumps((plan.model, plan.pages, plan.baked, plan.rows)))
        (folder / PLAN).write_text(json.dumps(asdict(_told(plan))))
    else:
        model, pages, baked, rows = pickle.loads((source / CHARTS).read_bytes())
        _bake(Plan(asked, schedule, by_axis, model, pages, baked, rows), looks, folder, request, line)


def _bake(plan: Plan, looks: dict[str, Look], folder: Path, request: dict[str, Any], line: Line) -> None:
    found = bake(plan, looks, line.tell)
    kind = writable(f".{request['suffix']}")
    files = kind.write(found.model, request["stem"], Convention(**request["convention"]))
    if request["suffix"] != "obj":
        files |= found.beside(request["stem"])
    (folder / OUT).mkdir()
    for name, data in files.items():
        (folder / OUT / name).write_bytes(data)
    (folder / DONE).write_text(json.dumps({"files": list(files), "notes": list(found.model.notes)}))


def _asked(stated: dict[str, Any]) -> Asked:
    asked = Asked(**stated)
    finishes = None if asked.finishes is None else tuple(asked.finishes)
    return replace(asked, finishes=finishes, channels=tuple(asked.channels))


def _sources(source: Path) -> tuple[dict[str, Image], dict[str, str]]:
    """The images of the model's own materials by content hash, and what the model called them."""
    stated = json.loads((source / SOURCES).read_text())
    images = {
        sha256: Image((source / sha256).read_bytes(), mime) for sha256, mime in stated["images"].items()
    }
    return images, stated["names"]


def _told(plan: Plan) -> Planned:
    density, per_m = plan.pages.density(), plan.asked.px_per_m
    return Planned(
        images=plan.pages.sizes, pieces=len(plan.pages.charts.shapes), filled=plan.pages.filled(),
        true_share=density.true_share, least_px_per_m=density.least * per_m,
        greatest_px_per_m=density.greatest * per_m,
        finishes=tuple(plan.schedule.finishes[key].name for key in plan.baked),
    )  # fmt: skip
