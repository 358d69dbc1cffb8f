"""What an artist can do to a project, as pure functions: contents before -> contents after.

Each edit also says in a few words what it did; the journal shows that beside undo and redo.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from pivrel.recipe import DatumModel, FinishModel
from pivrel.store.projects import Contents, Document

FitDatum = Callable[[dict[str, Any]], DatumModel]
"""Fits a datum to the pick and projection of a finish body."""

Partial = tuple[float | None, float | None]


class EditError(ValueError):
    """An edit that cannot be carried out; the message says why in one sentence."""


def copied(contents: Contents) -> Contents:
    """Contents that can be changed without touching the original."""
    return Contents(dict(contents.finishes), dict(contents.materials))


def finish_of(contents: Contents, key: str) -> Document:
    """A finish by its code, or EditError."""
    if key not in contents.finishes:
        raise EditError(f"the schedule has no finish {key}")
    return contents.finishes[key]


def with_material(contents: Contents, library: dict[str, Document], key: str) -> Contents:
    """The contents with a material of the library taken into the project, where it is not yet."""
    if key in contents.materials:
        return contents
    if key not in library:
        raise EditError(f"there is no material {key!r}")
    body = {k: v for k, v in library[key].body.items() if k != "use"}
    out = copied(contents)
    out.materials[key] = Document(key, len(out.materials), body)
    return out


def lay(
    contents: Contents,
    library: dict[str, Document],
    material: str,
    pick: dict[str, Any],
    projection: dict[str, Any],
    fit: FitDatum,
) -> tuple[Contents, str]:
    """Adds a finish at the end of the schedule, its projection fitted to the pick."""
    out = copied(with_material(contents, library, material))
    number = max((int(key[1:]) for key in out.finishes), default=0) + 1
    name = _free_name(out, str(out.materials[material].body["name"]).split(",")[0])
    body = {
        "name": name, "material": material, "pick": pick, "projection": projection, "datum": None,
        "turn_deg": 0.0, "grain_deg": None, "offset_mm": [0.0, 0.0], "scale": [1.0, 1.0],
    }  # fmt: skip
    body["datum"] = fit(body).model_dump(mode="json")
    position = max((d.position for d in out.finishes.values()), default=0) + 1
    out.finishes[f"F{number}"] = Document(f"F{number}", position, checked(body))
    return out, f"lay {name}"


def _free_name(contents: Contents, name: str) -> str:
    taken = {d.body["name"] for d in contents.finishes.values()}
    count, free = 2, name
    while free in taken:
        free, count = f"{name} {count}", count + 1
    return free


def checked(body: dict[str, Any]) -> dict[str, Any]:
    """The body, after the recipe's own checks (pydantic's ValidationError where one fails)."""
    FinishModel.model_validate(body)
    return body


def change(
    contents: Contents,
    library: dict[str, Document],
    keys: Sequence[str],
    changes: dict[str, Any],
    fit: FitDatum,
) -> tuple[Contents, str]:
    """Changes one or several finishes alike.

    changes: any of name, material, pick, projection, datum ("fit" fits it anew), turn_deg, turn_by
    (added to what each has), grain_deg, offset_mm and scale (None keeps a component), repeat_mm
    (sets the scale from the material's own repeat) with linked (one side typed scales both).
    """
    if "material" in changes:
        contents = with_material(contents, library, changes["material"])
    out = copied(contents)
    for key in keys:
        document = finish_of(out, key)
        body = dict(document.body)
        for plain in ("name", "material", "pick", "projection"):
            if plain in changes:
                body[plain] = changes[plain]
        _turn(body, changes, out)
        if "offset_mm" in changes:
            body["offset_mm"] = _merged(body["offset_mm"], changes["offset_mm"])
        if "scale" in changes:
            body["scale"] = _merged(body["scale"], changes["scale"])
        if "repeat_mm" in changes:
            own = out.materials[body["material"]].body["repeat_mm"]
            old = [own[0] * body["scale"][0], own[1] * body["scale"][1]]
            wanted = _resized(old, changes["repeat_mm"], changes.get("linked", True))
            body["scale"] = [wanted[0] / own[0], wanted[1] / own[1]]
        refit = changes.get("datum") == "fit" or (
            "projection" in changes and changes["projection"]["kind"] != document.body["projection"]["kind"]
        )
        if refit:
            body["datum"] = fit(body).model_dump(mode="json")
        elif "datum" in changes:
            body["datum"] = changes["datum"]
        out.finishes[key] = replace(document, body=checked(body))
    return out, _change_label(out, keys, changes)


def _turn(body: dict[str, Any], changes: dict[str, Any], contents: Contents) -> None:
    if "turn_deg" in changes:
        body["turn_deg"], body["grain_deg"] = changes["turn_deg"], None
    elif "grain_deg" in changes:
        body["turn_deg"], body["grain_deg"] = None, changes["grain_deg"]
    elif "turn_by" in changes and body["grain_deg"] is not None:
        body["grain_deg"] = (body["grain_deg"] + changes["turn_by"]) % 180
    elif "turn_by" in changes:
        body["turn_deg"] = (body["turn_deg"] + changes["turn_by"]) % 360


def _merged(old: Sequence[float], new: Partial) -> list[float]:
    return [o if n is None else n for o, n in zip(old, new, strict=True)]


def _resized(old: Sequence[float], new: Partial, linked: bool) -> list[float]:
    """Width and height with the typed ones set; linked, a single typed side takes the other along."""
    width, height = new
    if linked and (width is None) != (height is None):
        factor = width / old[0] if width is not None else (height or 0.0) / old[1]
        return [old[0] * factor, old[1] * factor]
    return _merged(old, new)


def _change_label(contents: Contents, keys: Sequence[str], changes: dict[str, Any]) -> str:
    who = contents.finishes[keys[0]].body["name"] if len(keys) == 1 else f"{len(keys)} finishes"
    words = {
        "name": "name", "material": "material", "pick": "pick", "projection": "projection",
        "datum": "datum", "turn_deg": "turn", "turn_by": "turn", "grain_deg": "grain",
        "offset_mm": "offset", "scale": "scale", "repeat_mm": "repeat",
    }  # fmt: skip
    what = ", ".join(dict.fromkeys(words[key] for key in changes if key in words))
    return f"{what} of {who}"


def remove(contents: Contents, keys: Sequence[str]) -> tuple[Contents, str]:
    """Takes finishes off the schedule; their faces show what lies under them."""
    out = copied(contents)
    names = [finish_of(out, key).body["name"] for key in keys]
    for key in keys:
        del out.finishes[key]
    return out, f"remove {names[0] if len(names) == 1 else f'{len(names)} finishes'}"


def move(contents: Contents, key: str, to: int) -> tuple[Contents, str]:
    """Moves a finish to another row of the schedule, counted from 0; later rows cover earlier ones."""
    out = copied(contents)
    order = [k for k in out.finishes if k != finish_of(out, key).key]
    order.insert(max(0, min(to, len(order))), key)
    out.finishes = {k: replace(out.finishes[k], position=at + 1) for at, k in enumerate(order)}
    return out, f"move {out.finishes[key].body['name']}"


def change_material(
    contents: Contents,
    key: str,
    repeat_mm: Partial | None = None,
    linked: bool = True,
    grain_deg: float | None = None,
    name: str | None = None,
) -> tuple[Contents, str]:
    """Changes a material of the project, and so every finish that uses it."""
    if key not in contents.materials:
        raise EditError(f"the project does not use the material {key!r}")
    out = copied(contents)
    document = out.materials[key]
    body = dict(document.body)
    if repeat_mm is not None:
        body["repeat_mm"] = _resized(body["repeat_mm"], repeat_mm, linked)
        if not all(1e-3 <= side <= 1e7 for side in body["repeat_mm"]):
            raise EditError("a repeat must be above zero and at most 10 km")
    if grain_deg is not None:
        body["grain_deg"] = grain_deg % 180
    if name is not None:
        body["name"] = name
    out.materials[key] = replace(document, body=body)
    what = "repeat" if repeat_mm is not None else "grain" if grain_deg is not None else "name"
    return out, f"{what} of {body['name']}"
