"""The demo: invented models made by Pivrel's own code, with some work done and some left to do."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from pivrel import edits
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.demo import lido, radio
from pivrel.formats import Imported
from pivrel.laid_project import fitted
from pivrel.store import blobs, journal, projects
from pivrel.store.database import Database
from pivrel.store.library import fill_library
from pivrel.store.projects import Contents, Document
from pivrel.web.projects import model_facts

BOX: dict[str, Any] = {"kind": "box", "corners": "separate"}
PLANAR: dict[str, Any] = {"kind": "planar", "backs": "through"}

# The east wall, the drum, the columns and screen B are left for the newcomer.
LIDO_FINISHES: list[tuple[str, dict[str, Any], dict[str, Any], dict[str, Any]]] = [
    ("concrete", {"parts": ["Deck", "Floor", "Step ?", "Pool wall *", "Pool floor"]}, BOX, {}),
    ("brick", {"parts": ["Wall south", "Wall west", "Wall north"]}, BOX, {}),
    ("zinc", {"parts": ["Vault outside", "Vault edge *"]}, PLANAR, {}),
    ("oak", {"parts": ["Screen A *"]}, BOX, {"turn_deg": 90.0}),
    ("terrazzo", {"parts": ["Counter top"]}, BOX, {}),
]
RADIO_FINISHES: list[tuple[str, dict[str, Any], dict[str, Any], dict[str, Any]]] = [
    ("walnut", {"parts": ["Cabinet top", "Cabinet bottom"]}, BOX, {"turn_deg": 90.0}),
    ("twill", {"parts": ["Front cloth"]}, BOX, {}),
]


def fill(database: Database) -> Iterator[str]:
    """Adds what is missing of the library and of the demo projects; one line for each."""
    yield from fill_library(database)
    with database.reading() as db:
        there = projects.demo_keys(db)
    if "radio" not in there:
        yield _project(
            database, "radio", "Table radio", "table-radio (made up)", radio.build(), RADIO_FINISHES
        )
    if "lido" not in there:
        yield _project(
            database, "lido", "Saltmarsh Lido", "saltmarsh-lido (made up)", lido.build(), LIDO_FINISHES
        )


def _project(database: Database, key: str, name: str, file: str, mesh: Mesh, finishes: list[Any]) -> str:
    surface = Surface(mesh)
    fit = partial(fitted, surface)
    with database.transaction() as db:
        imported = Imported(mesh, "mm", "z", False, ())
        project_id = projects.create(db, name, blobs.put_mesh(db, mesh), model_facts(imported, file), key)
        library: dict[str, Document] = projects.library(db)
        contents = Contents()
        for material, pick, projection, placed in finishes:
            contents, _ = edits.lay(contents, library, material, pick, projection, fit)
            if placed:
                contents, _ = edits.change(contents, library, [list(contents.finishes)[-1]], placed, fit)
        # Not by the journal: undo begins with the newcomer's own first edit.
        journal.carry_out(db, project_id, journal.changes_between(Contents(), contents))
    return f"project: {name} ({len(mesh.part_names)} parts, {len(surface.triangles):,} triangles)"
