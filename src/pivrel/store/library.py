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
    """Makes the materials that are missing; one line for each."""
    with database.reading() as db:
        there = projects.library(db)
    for position, key in enumerate(KEYS):
        if key in there:
            # A library of an earlier version knows nothing of joints; its images stay as they are.
            stated = said_of(key)
            held = there[key].body.model_dump(mode="json")
            if held.items() >= stated.items():
                continue
            with database.transaction() as db:
                projects.put_library(db, key, position, LibraryBody(**{**held, **stated}))
            yield f"material: {there[key].body.name}, brought up to date"
            continue
        material = make(key)
        with database.transaction() as db:
            body = LibraryBody(
                name=material.name,
                repeat_mm=material.repeat_mm,
                metallic=material.metallic,
                use=material.use,
                images={cast(Channel, c): sha for c, sha in blobs.put_images(db, material.images).items()},
                **said_of(key),
            )
            projects.put_library(db, key, position, body)
        yield f"material: {material.name}"
