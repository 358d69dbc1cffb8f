"""A project's model read in another unit, with another axis up, or put elsewhere: faces stay what they are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.mesh import REACH_MM, Mesh
from pivrel.core.revision import Motion
from pivrel.edits import EditError
from pivrel.formats.units import Convention, from_model, to_model
from pivrel.store.projects import Contents, Document

Shift = tuple[float, float, float]


@dataclass(frozen=True)
class Reading:
    """How a model's numbers are meant, and how far it is put from where they say, in mm."""

    unit: str
    up: str
    shift_mm: Shift = (0.0, 0.0, 0.0)

    @classmethod
    def of(cls, facts: dict[str, Any]) -> Reading:
        """The reading that a project's model is in."""
        x, y, z = facts.get("shift_mm") or (0.0, 0.0, 0.0)
        return cls(facts["unit"], facts["up"], (x, y, z))


def move_between(old: Reading, new: Reading) -> Motion:
    """What turns a model in one reading into the same model in another."""
    was, now = Convention.of(old.unit, old.up), Convention.of(new.unit, new.up)
    linear = to_model(from_model(np.eye(3), was), now).T
    scale = now.mm / was.mm
    turn = np.round(linear / scale, 12) + 0.0
    return Motion(scale, turn, np.array(new.shift_mm) - scale * turn @ np.array(old.shift_mm))


def _place(move: Motion, point: Any) -> list[float]:
    """A place (3,) as documents state it, after a move."""
    return [float(v) for v in np.round(move.places(np.array(point, float)), 9) + 0.0]


def _direction(move: Motion, vector: Any) -> list[float]:
    return [float(v) for v in np.round(move.directions(np.array(vector, float)), 12) + 0.0]


def moved_mesh(mesh: Mesh, move: Motion) -> Mesh:
    """The mesh after a move; EditError where it would be out of reach."""
    points = move.places(mesh.points)
    if not np.isfinite(points).all() or np.abs(points).max() > REACH_MM:
        raise EditError("the model would be larger, or further away, than 100,000 km; choose a smaller unit")
    normals = None if mesh.normals is None else move.directions(mesh.normals).astype(np.float32)
    exact = tuple(_moved_exact(surface, move) for surface in mesh.exact)
    return replace(mesh, points=points, normals=normals, exact=exact)


def _moved_exact(surface: ExactSurface, move: Motion) -> ExactSurface:
    x, y, z = _place(move, surface.origin_mm)
    a, b, c = _direction(move, surface.axis)
    return replace(
        surface,
        origin_mm=(x, y, z),
        axis=(a, b, c),
        radius_mm=surface.radius_mm * move.scale,
        tube_mm=surface.tube_mm * move.scale,
    )


def moved_contents(contents: Contents, move: Motion) -> Contents:
    """Finishes, kept picks and views where the model is now; materials keep their true size."""
    out = contents.copied()
    for key, document in contents.finishes.items():
        out.finishes[key] = _with(document, _moved_finish(document.body, move))
    for key, document in contents.pick_sets.items():
        out.pick_sets[key] = _with(
            document, {**document.body, "pick": _moved_pick(document.body["pick"], move)}
        )
    for key, document in contents.views.items():
        out.views[key] = _with(document, _moved_view(document.body, move))
    return out


def _with(document: Document, body: dict[str, Any]) -> Document:
    return Document(document.key, document.position, body)


def _moved_finish(body: dict[str, Any], move: Motion) -> dict[str, Any]:
    out = {**body, "pick": _moved_pick(body["pick"], move)}
    if body.get("datum"):
        datum = body["datum"]
        out["datum"] = {
            "origin_mm": _place(move, datum["origin_mm"]),
            "x_axis": _direction(move, datum["x_axis"]),
            "z_axis": _direction(move, datum["z_axis"]),
        }
    projection = dict(body["projection"])
    if projection.get("radius_mm") is not None:
        projection["radius_mm"] *= move.scale
    if projection.get("size_mm") is not None:
        projection["size_mm"] = [side * move.scale for side in projection["size_mm"]]
    out["projection"] = projection
    if (body.get("grain") or {}).get("direction"):
        out["grain"] = {**body["grain"], "direction": _direction(move, body["grain"]["direction"])}
    if body.get("adjust"):
        out["adjust"] = [{**a, "pick": _moved_pick(a["pick"], move)} for a in body["adjust"]]
    return out


def _moved_pick(pick: dict[str, Any], move: Motion) -> dict[str, Any]:
    """A pick as a recipe states it: what looks some way looks the same way of the model."""
    if "facing" in pick:
        return {**pick, "facing": _direction(move, pick["facing"])}
    for several in ("any", "every"):
        if several in pick:
            return {several: [_moved_pick(inner, move) for inner in pick[several]]}
    if "not" in pick:
        return {"not": _moved_pick(pick["not"], move)}
    return pick


def _moved_view(body: dict[str, Any], move: Motion) -> dict[str, Any]:
    out = {
        **body,
        "position_mm": _place(move, body["position_mm"]),
        "target_mm": _place(move, body["target_mm"]),
        "up": _direction(move, body["up"]),
    }
    if body.get("height_mm"):
        out["height_mm"] = body["height_mm"] * move.scale
    if body.get("clip"):
        clip = body["clip"]
        axis = np.eye(3)["xyz".index(clip["axis"])]
        turned = np.array(_direction(move, axis))
        along = int(np.argmax(np.abs(turned)))
        at = move.scale * clip["at_mm"] * turned[along] + move.shift[along]
        flipped = bool(clip["flipped"]) != bool(turned[along] < 0)
        out["clip"] = {"axis": "xyz"[along], "at_mm": float(at), "flipped": flipped}
    return out


def said(old: Reading, new: Reading) -> str:
    """What a move did, in words."""
    told = []
    if old.unit != new.unit:
        told.append(f"the model's numbers are read in {new.unit} now, not in {old.unit}")
    if old.up != new.up:
        told.append(f"{new.up.upper()} is up")
    if old.shift_mm != new.shift_mm:
        told.append("it stands elsewhere")
    words = "; ".join(told) or "nothing was changed"
    return f"{words}. Finishes went with their faces; materials keep their true size"
