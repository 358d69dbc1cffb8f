"""Bringing the built-in library into the database."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any, cast

from pivrel.materials.channels import Channel
from pivrel.materials.library import KEYS, PROCEDURAL, make
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from pivrel.store.made_from import LIBRARY, code_of


def said_of(key: str) -> dict[str, Any]:
    """What a built-in material says of itself beside its images and their size."""
    procedural = PROCEDURAL.get(key)
    joints = procedural.joints if procedural else None
    return {
        "grain_deg": procedural.grain_deg if procedural and procedural.has_grain else None,
        # As JSON has it, to be compared with what is stored.
        "joints": json.loads(json.dumps(asdict(joints))) if joints else None,
        "half_turns": bool(procedural and procedural.half_turns),
        "mirrors": bool(procedural and procedural.mirrors),
        "normal_y": "+",
        "tags": [procedural.use] if procedural else ["check"],
        "own": False,
    }


def fill_library(database: Database) -> Iterator[str]:
    """Makes the materials that are missing, and anew those that other code has made; one line for each.

    Projects keep what they have taken of a material.
    """
    code = code_of(LIBRARY)
    with database.reading() as db:
        there = projects.library(db)
    for position, key in enumerate(KEYS):
        if key in there and there[key].body.made_from == code:
            continue
        material = make(key)
        with database.transaction() as db:
            body = LibraryBody(
                name=material.name,
                repeat_mm=material.repeat_mm,
                metallic=material.metallic,
                use=material.use,
                images={cast(Channel, c): sha for c, sha in blobs.put_images(db, material.images).items()},
                made_from=code,
                **said_of(key),
            )
            projects.put_library(db, key, position, body)
        yield f"material: {material.name}{', made anew' if key in there else ''}"


def fill_at_first_start(database: Database) -> Iterator[str]:
    """Fills the library of a data folder that holds no project yet, as `fill_library` does; one line for each."""
    with database.reading() as db:
        there, begun = projects.library(db), bool(projects.get_all(db))
    if begun or all(key in there for key in KEYS):
        return
    yield "first start: making the built-in materials, which takes about half a minute"
    yield from fill_library(database)
