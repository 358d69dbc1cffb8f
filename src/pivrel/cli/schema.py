"""`pivrel schema`: the recipe's JSON Schema."""

from __future__ import annotations

import argparse
import json

from pivrel.recipe import recipe_schema


def schema(_: argparse.Namespace) -> None:
    """Prints the recipe's JSON Schema."""
    print(json.dumps(recipe_schema(), indent=2))
