"""What an artist can do to a project, as pure functions: contents before -> contents after.

Each edit also says in a few words what it did; the journal shows that beside undo and redo.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from pivrel.core.fitting import BEST, Aim, seam_turned
from pivrel.core.geometry.frames import turned
from pivrel.recipe import DatumModel, FinishModel
from pivrel.store.bodies import MaterialBody
from pivrel.store.projects import Contents, Document

FitDatum = Callable[[dict[str, Any], Aim], DatumModel]
"""Fits a datum to the pick and projection of a finish body, towards an aim."""

PLACEMENT = (
    "projection", "datum", "datum_for", "turn_deg", "grain_deg", "offset_mm", "scale", "tile",
)  # fmt: skip
"""What a finish takes from another when its placement is copied."""

BY_FACE: dict[str, Any] = {"grain": None, "run_on": False, "variation": None}
SHEET = {"along": "sheet"}

Partial = tuple[float | None, float | None]


class EditError(ValueError):
    """An edit that cannot be carried out; the message says why in one sentence."""


def counted(count: int, one: str) -> str:
    """A number of things in words: "1 face", "12 faces"."""
    return f"1 {one}" if count == 1 else f"{count:,} {one}s"


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
    body = {k: v for k, v in library[key].body.items() if k in MaterialBody.model_fields}
    out = contents.copied()
    out.materials[key] = Document(key, len(out.materials), body)
    return out


def with_named(contents: Contents, library: dict[str, Document], projection: dict[str, Any]) -> Contents:
    """The contents with the materials taken in that a projection has for its axes."""
    for key in projection.get("materials", {}).values():
        if key is not None:
            contents = with_material(contents, library, key)
    return contents


def lay(
    contents: Contents,
    library: dict[str, Document],
    material: str,
    pick: dict[str, Any],
    projection: dict[str, Any],
    fit: FitDatum,
    aim: Aim = BEST,
    datum: dict[str, Any] | None = None,
    like: str | None = None,
) -> tuple[Contents, str]:
    """Adds a finish at the end of the schedule, its projection fitted to the pick.

    datum: taken as it is in place of a fit. like: a finish whose whole placement is taken over.
    """
    out = with_named(with_material(contents, library, material), library, projection).copied()
    name = _free_name(out, str(out.materials[material].body["name"]).split(",")[0])
    body = {
        "name": name, "material": material, "pick": pick, "projection": projection, "datum": datum,
        "datum_for": "pick", "turn_deg": 0.0, "grain_deg": None, "offset_mm": [0.0, 0.0],
        "scale": [1.0, 1.0], "tile": True,
    }  # fmt: skip
    if like is not None:
        body |= placement_of(finish_of(out, like).body)
    elif datum is None:
        body["datum"] = fit(body, aim).model_dump(mode="json")
    _append(out, body)
    return out, f"lay {name}"


def _append(contents: Contents, body: dict[str, Any]) -> str:
    """Adds a finish at the end of the schedule under a new code."""
    key = f"F{max((int(key[1:]) for key in contents.finishes), default=0) + 1}"
    position = max((d.position for d in contents.finishes.values()), default=0) + 1
    contents.finishes[key] = Document(key, position, checked(body))
    return key


def placement_of(body: dict[str, Any]) -> dict[str, Any]:
    """Projection, datum and how the sheet lies."""
    return {key: body[key] for key in PLACEMENT if key in body} | {
        key: body.get(key, default) for key, default in BY_FACE.items()
    }


def split(
    contents: Contents,
    library: dict[str, Document],
    key: str,
    pick: dict[str, Any],
    projection: dict[str, Any],
    fit: FitDatum,
    aim: Aim = BEST,
) -> tuple[Contents, str]:
    """Gives a pick within a finish a projection of its own: a row below it, with the same material."""
    out = with_named(contents, library, projection).copied()
    source = finish_of(out, key)
    name = _free_name(out, str(source.body["name"]))
    within = {"every": [source.body["pick"], pick]}
    body = {
        **source.body,
        "name": name,
        "pick": within,
        "projection": projection,
        "datum_for": "pick",
        "datum": None,
    }
    body["datum"] = fit(body, aim).model_dump(mode="json")
    added = _append(out, body)
    row = list(out.finishes).index(key)
    out, _ = move(out, added, row + 1)
    return out, f"own projection for a part of {source.body['name']}"


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

    changes: any of name, material, pick, projection, options (of the projection that each has),
    datum, datum_for, fit (an Aim: fits the datum anew), seam (turns the seam, as `seam_turned` takes
    it), datum_turn (an axis of the datum and degrees about it), turn_deg, turn_by (added to what each
    has), grain_deg, offset_mm and scale (None keeps a component), repeat_mm (sets the scale from the
    material's own repeat) with linked (one side typed scales both), flip ("along" or "up"), tile,
    like (a finish whose placement is taken over), grain (a rule that turn_deg counts from), run_on,
    variation (None or {} ends it). With another material the grain on the face stays as it was.
    """
    if "material" in changes:
        contents = with_material(contents, library, changes["material"])
    contents = with_named(contents, library, {**changes.get("projection", {}), **changes.get("options", {})})
    out = contents.copied()
    for key in keys:
        document = finish_of(out, key)
        body = dict(document.body)
        if "like" in changes:
            body |= placement_of(finish_of(out, changes["like"]).body)
        if "material" in changes:
            body = regrained(body, out, changes["material"])
        for plain in ("name", "pick", "projection", "tile", "run_on"):
            if plain in changes:
                body[plain] = changes[plain]
        for by_face in ("grain", "variation"):
            if by_face in changes:
                body[by_face] = changes[by_face] or None
        if changes.get("grain", SHEET)["along"] != "sheet":
            # The rule says the direction; a turn from before would be one to it.
            body["turn_deg"], body["grain_deg"] = 0.0, None
        if changes.get("grain", SHEET)["along"] == "length" and "datum_for" not in changes:
            # Boards lie every way; each is measured along itself.
            changes = {**changes, "datum_for": "board"}
        if "options" in changes:
            body["projection"] = body["projection"] | changes["options"]
        _turn(body, changes, out)
        _size(body, changes, out)
        if "offset_mm" in changes:
            body["offset_mm"] = _merged(body["offset_mm"], changes["offset_mm"])
        _datum(document.body, body, changes, fit)
        out.finishes[key] = replace(document, body=checked(body))
    return out, _change_label(out, keys, changes)


def _size(body: dict[str, Any], changes: dict[str, Any], contents: Contents) -> None:
    if "scale" in changes:
        body["scale"] = _merged(body["scale"], changes["scale"])
    if "repeat_mm" in changes:
        own = contents.materials[body["material"]].body["repeat_mm"]
        signs = [1 if side > 0 else -1 for side in body["scale"]]
        old = [own[0] * abs(body["scale"][0]), own[1] * abs(body["scale"][1])]
        wanted = resized(old, changes["repeat_mm"], changes.get("linked", True))
        body["scale"] = [signs[k] * wanted[k] / own[k] for k in (0, 1)]
    if "flip" in changes:
        side = ("along", "up").index(changes["flip"])
        body["scale"] = [-v if k == side else v for k, v in enumerate(body["scale"])]


def _datum(before: dict[str, Any], body: dict[str, Any], changes: dict[str, Any], fit: FitDatum) -> None:
    """Places the datum: as stated, fitted anew, or with its seam turned."""
    datum_for = changes.get("datum_for", body.get("datum_for", "pick"))
    body["datum_for"] = datum_for
    # Where corners are wrapped the datum stands in the middle of the box, and not at its corner.
    other_kind = any(
        body["projection"].get(key) != before["projection"].get(key) for key in ("kind", "corners")
    )
    if "datum" in changes:
        body["datum"], body["datum_for"] = changes["datum"], "pick"
    elif datum_for != "pick" and "fit" not in changes:
        body["datum"] = None
    elif "fit" in changes or body["datum"] is None or (other_kind and "like" not in changes):
        body["datum_for"] = "pick"
        body["datum"] = fit({**body, "datum": None}, changes.get("fit", BEST)).model_dump(mode="json")
    if "seam" not in changes and "datum_turn" not in changes:
        return
    if body["datum"] is None:
        raise EditError(f"each {datum_for} has a datum of its own; make it one for the whole pick first")
    datum = DatumModel.model_validate(body["datum"]).to_core()
    if "seam" in changes:
        datum = seam_turned(datum, **changes["seam"])
    if "datum_turn" in changes:
        datum = turned(datum, *changes["datum_turn"])
    body["datum"] = DatumModel.of(datum).model_dump(mode="json")


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


def resized(old: Sequence[float], new: Partial, linked: bool) -> list[float]:
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
        "datum": "datum", "options": "projection", "turn_deg": "turn", "turn_by": "turn", "grain_deg": "grain",
        "offset_mm": "offset", "scale": "scale", "repeat_mm": "repeat", "fit": "datum",
        "datum_for": "datum", "datum_turn": "datum", "seam": "seam", "flip": "flip", "tile": "tiling", "like": "placement",
        "grain": "grain", "run_on": "running on", "variation": "variation",
    }  # fmt: skip
    what = ", ".join(dict.fromkeys(words[key] for key in changes if key in words))
    return f"{what} of {who}"


def remove(contents: Contents, keys: Sequence[str]) -> tuple[Contents, str]:
    """Takes finishes off the schedule; their faces show what lies under them."""
    out, keys = contents.copied(), list(dict.fromkeys(keys))
    names = [finish_of(out, key).body["name"] for key in keys]
    for key in keys:
        del out.finishes[key]
    return out, f"remove {names[0] if len(names) == 1 else f'{len(names)} finishes'}"


def move(contents: Contents, key: str, to: int) -> tuple[Contents, str]:
    """Moves a finish to another row of the schedule, counted from 0; later rows cover earlier ones."""
    out = contents.copied()
    moved = finish_of(out, key)
    order = [k for k in out.finishes if k != moved.key]
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
    normal_y: str | None = None,
) -> tuple[Contents, str]:
    """Changes a material of the project, and so every finish that uses it."""
    if key not in contents.materials:
        raise EditError(f"the project does not use the material {key!r}")
    out = contents.copied()
    document = out.materials[key]
    body = dict(document.body)
    if repeat_mm is not None:
        body["repeat_mm"] = resized(body["repeat_mm"], repeat_mm, linked)
        if not all(1e-3 <= side <= 1e7 for side in body["repeat_mm"]):
            raise EditError("a repeat must be above zero and at most 10 km")
        body.pop("estimated", None)
    if grain_deg is not None:
        body["grain_deg"] = grain_deg % 180
    if name is not None:
        body["name"] = name
    if normal_y is not None:
        body["normal_y"] = normal_y
    out.materials[key] = replace(document, body=body)
    given = {"repeat": repeat_mm, "grain": grain_deg, "name": name, "normal map": normal_y}
    what = next((words for words, value in given.items() if value is not None), "nothing")
    return out, f"{what} of {body['name']}"


def plain_turn(degrees: float) -> float:
    """The same turn from -180 (not included) to 180, without noise."""
    return round(-((-degrees + 180) % 360 - 180), 9) + 0.0


def regrained(body: dict[str, Any], contents: Contents, to: str) -> dict[str, Any]:
    """A finish's body with another material, turned so that the grain runs on the face as it did."""
    was, now = (contents.materials[m].body.get("grain_deg") or 0.0 for m in (body["material"], to))
    out = {**body, "material": to}
    if body["grain_deg"] is None and (body.get("grain") or SHEET)["along"] == "sheet":
        out["turn_deg"] = plain_turn((body["turn_deg"] or 0.0) + was - now)
    return out
