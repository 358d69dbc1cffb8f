"""Edits of finishes as requests state them, by the field that each changes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

KINDS = {
    "name": "rename", "material": "set_material", "pick": "set_pick", "projection": "set_projection",
    "options": "set_options", "datum": "set_datum", "datum_for": "set_datum_for", "turn_deg": "turn_to",
    "turn_by": "turn_by", "grain_deg": "grain_to", "offset_mm": "offset", "scale": "scale", "repeat_mm": "repeat",
    "tile": "tile", "like": "place_like", "grain": "follow_grain", "run_on": "run_on", "variation": "vary",
}  # fmt: skip


def edits_of(finishes: Sequence[str], **what: Any) -> list[dict[str, Any]]:
    """One edit for each field that is to be changed, in the order given."""
    linked = {"linked": what.pop("linked")} if "linked" in what else {}
    out = []
    for field, value in what.items():
        match field:
            case "fit":
                edit = {"kind": "fit_datum", "aim": value}
            case "seam":
                edit = {"kind": "turn_seam", **value}
            case "datum_turn":
                edit = {"kind": "turn_datum", "axis": value[0], "turn_by": value[1]}
            case "flip":
                edit = {"kind": "flip", "way": value}
            case "grain_edge":
                edit = {"kind": "follow_edge", "edge": value}
            case _:
                edit = {"kind": KINDS[field], field: value}
        out.append({**edit, "finishes": list(finishes), **(linked if field == "repeat_mm" else {})})
    return out


def one_edit(finishes: Sequence[str], **what: Any) -> dict[str, Any]:
    """The edit that changes one field."""
    (edit,) = edits_of(finishes, **what)
    return edit
