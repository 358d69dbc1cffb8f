"""A project as the files of a recipe: what the command line, and a bake, lay the same from."""

from __future__ import annotations

import json

from pivrel.formats.laid import safe_file_name
from pivrel.recipe import MaterialModel, read_recipe, with_ids
from pivrel.store import blobs, projects
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents

RECIPE = "recipe.json"


def stated_rows(contents: Contents) -> list[str]:
    """The finishes that a recipe of these contents states, in its order."""
    return [key for key in contents.finishes if not contents.unread(key)]


def recipe_files(db: Connection, project_id: int) -> dict[str, bytes]:
    """recipe.json and the images that it names, by their file names; finishes in the order of the schedule.

    Without rows that this version cannot read whole; see `stated_rows`.
    """
    contents = projects.contents(db, project_id)
    files: dict[str, bytes] = {}
    materials = {}
    for key, document in contents.materials.items():
        names = {}
        for channel, image in blobs.get_images(db, document.body.images).items():
            names[channel] = f"{safe_file_name(key)}_{channel}{image.suffix}"
            files[names[channel]] = image.data
        body = document.body.model_dump(mode="json", by_alias=True)
        stated = {k: body[k] for k in MaterialModel.model_fields if k in body}
        materials[key] = {**stated, "grain_deg": document.body.grain_deg or 0.0, "images": names}
    rows = [contents.finishes[key].fields for key in stated_rows(contents)]
    finishes = [{k: v for k, v in row.items() if v is not None} for row in rows]
    text = json.dumps({"recipe": 1, "materials": materials, "finishes": with_ids(finishes)}, indent=1)
    read_recipe(text)
    return {RECIPE: text.encode(), **files}
