"""Bringing the built-in library into the database."""

from __future__ import annotations

from collections.abc import Iterator

from pivrel.materials.library import KEYS, make
from pivrel.store import blobs, projects
from pivrel.store.database import Database


def fill_library(database: Database) -> Iterator[str]:
    """Makes the materials that are missing; one line for each."""
    with database.reading() as db:
        there = projects.library(db)
    for position, key in enumerate(KEYS):
        if key in there:
            continue
        material = make(key)
        with database.transaction() as db:
            body = {
                "name": material.name,
                "repeat_mm": list(material.repeat_mm),
                "grain_deg": material.grain_deg,
                "metallic": material.metallic,
                "use": material.use,
                "images": blobs.put_images(db, material.images),
            }
            projects.put_library(db, key, position, body)
        yield f"material: {material.name}"
