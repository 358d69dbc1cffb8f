"""A project with a schedule of many rows: blocks in a square, each laid with a tile of its own."""

from __future__ import annotations

import math
from dataclasses import replace

from pivrel.core.geometry.mesh import Mesh, merged
from pivrel.recipe import changed
from pivrel.recipe.picks import PartsPick
from pivrel.store import projects
from pivrel.store.documents import Document
from tests.browser.bench import Bench
from tests.shapes import cuboid


def blocks(count: int) -> Mesh:
    """As many blocks in a square, each a part of its own."""
    side, block = math.ceil(math.sqrt(count)), cuboid(800, 800, 800)
    at = [(k % side * 1000, k // side * 1000, 0) for k in range(count)]
    return merged(
        [replace(block, points=block.points + at[k], part_names=(f"Block {k:03}",)) for k in range(count)]
    )


def lay_each(bench: Bench, count: int) -> None:
    """Lays every block of such a model as a finish of its own, F1 and on."""
    bench.lay("box", "tile", {"parts": ["Block 000"]})
    with bench.database.transaction() as db:
        first = projects.contents(db, bench.id).finishes["F1"].body
        for k in range(1, count):
            stated = changed(first, name=f"Tile {k + 1}", pick=PartsPick(parts=(f"Block {k:03}",)))
            projects.put_document(db, bench.id, "finish", Document(f"F{k + 1}", k + 1, stated))
        # Not by an edit: the server is told that something is otherwise.
        db.execute("UPDATE project SET aside = aside + 1 WHERE id = ?", (bench.id,))
    bench.change(["F1"], turn_deg=0)
