"""Edits of a pick of nearly 2 SIDE^2 faces: `python -m tests.web.long_pick FOLDER COUNT SIDE` prints what they take of memory and disk."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

import numpy as np
from benchmarks.waits import hill

from pivrel.memory import keep_freed_memory
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.store.library import said_of
from pivrel.web.app import create_app
from tests.conftest import Asking, facts_of

WARM = 20


def resident() -> int:
    """Bytes of memory that this process holds."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")


def main() -> None:
    """Turns, scales and other picks in turns, each looked at as a page does."""
    keep_freed_memory()
    folder, count, side = Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3])
    database = Database(folder)
    faces = 2 * side * side
    with database.transaction() as db:
        facts = facts_of("a.obj", parts=1, triangles=faces)
        project = projects.create(db, "hill", blobs.put_mesh(db, hill(side)), facts)
        body = {
            "name": "Brick",
            "repeat_mm": [900, 600],
            "metallic": 0.0,
            "use": "wall",
            "images": {},
            **said_of("brick"),
        }
        projects.put_library(db, "brick", 0, LibraryBody.model_validate(body))
    hand = Asking(create_app(database).test_client(), project)
    chance = np.random.default_rng(1)
    ids = np.flatnonzero(chance.random(faces) < 0.9999)
    hand.lay({"faces": ids.tolist()}, projection="planar")
    memory, disk = [], []
    for number in range(count):
        if number % 10 == 9:
            # A few faces more or less, as an artist adds and removes.
            ids = np.setdiff1d(np.arange(faces), chance.integers(0, faces, 90))
            hand.change(["F1"], pick={"faces": ids.tolist()})
        else:
            hand.change(["F1"], turn_deg=float(number % 360) + 0.5)
        if number % 4 == 0:
            hand.st("F1")
        memory.append(resident())
        disk.append(sum(f.stat().st_size for f in folder.glob("pivrel.sqlite")))
    database.close()
    grown = (folder / "pivrel.sqlite").stat().st_size - disk[WARM]
    print(json.dumps({
        "faces": len(ids),
        "memory_grown": max(memory[WARM:]) - max(memory[:WARM]),
        "file_grown_an_edit": grown / (count - WARM),
    }))  # fmt: skip


if __name__ == "__main__":
    main()
