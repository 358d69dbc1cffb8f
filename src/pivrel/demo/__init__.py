"""The demo: invented models made by Pivrel's own code, with some work done and some left to do."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from pivrel import edits
from pivrel.core.geometry.surface import Surface
from pivrel.demo import lido, radio
from pivrel.formats import Imported, read_model
from pivrel.formats.bundle import Upload
from pivrel.laid_project import fitted
from pivrel.project_looks import keep_picture, picture_of
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
    (
        "oak",
        {"parts": ["Screen A *"]},
        BOX,
        {"grain": {"along": "length"}, "variation": {"by": "board", "seed": 1}},
    ),
    ("terrazzo", {"parts": ["Counter top"]}, BOX, {"run_on": True}),
]
RADIO_FINISHES: list[tuple[str, dict[str, Any], dict[str, Any], dict[str, Any]]] = [
    ("walnut", {"parts": ["Cabinet *"]}, BOX, {"turn_deg": 90.0, "run_on": True}),
    ("twill", {"parts": ["Front cloth"]}, BOX, {}),
]

BRACKET_FINISHES: list[tuple[str, dict[str, Any], dict[str, Any], dict[str, Any]]] = [
    ("zinc", {"parts": ["*Wall plate"]}, BOX, {}),
]


def fill(database: Database) -> Iterator[str]:
    """Adds what is missing of the library and of the demo projects; one line for each."""
    yield from fill_library(database)
    with database.reading() as db:
        there = projects.demo_keys(db)
    if "bracket" not in there:
        # The CAD kernel takes seconds to load; whoever has the demo already should not wait for it.
        from pivrel.demo import bracket

        file = ("towel-hook (made up).step", bracket.step())
        imported = read_model(*file, Upload({}))
        yield _project(database, "bracket", "Towel hook", imported, BRACKET_FINISHES, file)
    if "radio" not in there:
        imported = Imported(radio.build(), "mm", "z", False, ())
        yield _project(
            database, "radio", "Table radio", imported, RADIO_FINISHES, ("table-radio (made up)", b"")
        )
    if "lido" not in there:
        imported = Imported(lido.build(), "mm", "z", False, ())
        yield _project(
            database, "lido", "Saltmarsh Lido", imported, LIDO_FINISHES, ("saltmarsh-lido (made up)", b"")
        )


def _project(
    database: Database, key: str, name: str, imported: Imported, finishes: list[Any], file: tuple[str, bytes]
) -> str:
    mesh = imported.mesh
    surface = Surface(mesh)
    fit = partial(fitted, surface)
    with database.transaction() as db:
        facts = model_facts(imported, file[0])
        if file[1]:
            facts["files"] = [blobs.put_original(db, *file)]
        project_id = projects.create(db, name, blobs.put_mesh(db, mesh), facts, key)
        library: dict[str, Document] = projects.library(db)
        contents = Contents()
        for material, pick, projection, placed in finishes:
            contents, _ = edits.lay(contents, library, material, pick, projection, fit)
            if placed:
                contents, _ = edits.change(contents, library, [list(contents.finishes)[-1]], placed, fit)
        # Not by the journal: undo begins with the newcomer's own first edit.
        journal.carry_out(db, project_id, journal.changes_between(Contents(), contents))
        project = projects.get(db, project_id)
        assert project is not None
        # Drawn now, so that the first page does not wait for it.
        keep_picture(db, project, picture_of(db, project))
    return f"project: {name} ({len(mesh.part_names)} parts, {len(surface.triangles):,} triangles)"
