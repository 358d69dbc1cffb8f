"""What a project remembers by a name: picks and views. Pure functions, as `edits` has them."""

from __future__ import annotations

from typing import Any, Literal

from pivrel.edits import EditError
from pivrel.store.projects import Contents, Document

Kind = Literal["pick_set", "view"]

PREFIX: dict[Kind, str] = {"pick_set": "P", "view": "V"}
WORD: dict[Kind, str] = {"pick_set": "pick", "view": "view"}


def keep(contents: Contents, kind: Kind, body: dict[str, Any]) -> tuple[Contents, str]:
    """Keeps a pick or a view under its name, in place of the one that had the name before."""
    out = contents.copied()
    there = out.of(kind)
    same = next((key for key, document in there.items() if document.body["name"] == body["name"]), None)
    number = max((int(key[1:]) for key in there), default=0) + 1
    key = same or f"{PREFIX[kind]}{number}"
    position = there[same].position if same else number
    there[key] = Document(key, position, body)
    return out, f"keep the {WORD[kind]} {body['name']}"


def forget(contents: Contents, kind: Kind, key: str) -> tuple[Contents, str]:
    """Forgets a pick or a view."""
    out = contents.copied()
    there = out.of(kind)
    if key not in there:
        raise EditError(f"the project has no {WORD[kind]} {key}")
    name = there.pop(key).body["name"]
    return out, f"forget the {WORD[kind]} {name}"
