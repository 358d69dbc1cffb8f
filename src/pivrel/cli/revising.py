"""`pivrel revise`: a recipe carried over to a newer model."""

from __future__ import annotations

import argparse
import json

from pivrel.cli.files import CommandError, write_all
from pivrel.cli.models import load_model
from pivrel.cli.recipes import load_recipe
from pivrel.core.geometry.surface import Surface
from pivrel.core.phrases import counted
from pivrel.core.picks import PickError
from pivrel.project.revision import revised
from pivrel.recipe import with_ids
from pivrel.store.documents import Contents, Document


def revise(args: argparse.Namespace) -> None:
    """Carries a recipe over to a newer model, writes it, and lists what became of the faces."""
    recipe = load_recipe(args.recipe)
    old, new = (Surface(load_model(path, args).mesh) for path in (args.model, args.newer))
    stated = recipe.finishes
    contents = Contents({str(row): Document(str(row), row, finish) for row, finish in enumerate(stated)})
    try:
        done = revised(contents, old, new)
    except PickError as error:
        raise CommandError(args.recipe, str(error)) from None
    finishes = [document.fields for document in done.contents.finishes.values()]
    whole = {**json.loads(recipe.model_dump_json(by_alias=True)), "finishes": finishes}
    text = json.dumps(with_ids(whole), indent=1)
    write_all(args.output.parent, {args.output.name: text.encode()})
    names = [finish.name for finish in stated]
    for item in done.items:
        was, now = (names[int(key)] if key else "bare" for key in (item.was, item.finish))
        laid_on = f"was {was}, now {now}" if item.what != "gone" else f"was {was}"
        renamed = f" (was {item.former})" if item.former else ""
        asks = "; is that right?" if item.asks else ""
        count = counted(len(item.faces), "face")
        print(f"{item.what}: {item.part}{renamed}: {count}, {item.area_m2:.3f} m², {laid_on}{asks}")
