"""A project as the browser sees it: everything but the arrays."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict
from typing import Any

import numpy as np

from pivrel.core.geometry.mesh import SourceMaterial
from pivrel.laid_project import LaidProject
from pivrel.materials.checker import square_for
from pivrel.project_looks import laid
from pivrel.store import journal
from pivrel.store.projects import Project
from pivrel.web.context import rounded
from pivrel.web.words import pick_in_words


def view_origin(bounds: Any) -> list[float]:
    """Where the view's float32 coordinates begin, in mm: zero unless the model lies far away."""
    centre = bounds.mean(axis=0)
    reach = float(np.abs(bounds[1] - bounds[0]).max())
    return rounded(np.round(centre, -3) if np.abs(centre).max() > 20 * reach else np.zeros(3))


def project_state(db: sqlite3.Connection, project: Project) -> dict[str, Any]:
    """Revision, undo and redo, model, materials and schedule of a project."""
    project_laid = laid(db, project)
    undo, redo = journal.neighbours(db, project.id, project.cursor)
    surface = project_laid.surface
    bounds = surface.bounds
    bare = project_laid.bare()
    areas, bare_m2 = project_laid.shown_areas()
    return {
        "id": project.id,
        "name": project.name,
        "demo": project.demo,
        "revision": project.revision,
        "aside": project.aside,
        "undo": undo,
        "redo": redo,
        "model": {
            **{k: v for k, v in project.model.items() if k not in ("revision", "answered", "images")},
            "shift_mm": project.model.get("shift_mm") or [0.0, 0.0, 0.0],
            "revised": project.model.get("revision") is not None,
            "mesh": project.mesh,
            "faces": surface.mesh.face_count,
            "triangles": len(surface.triangles),
            "parts": len(surface.mesh.part_names),
            "bounds_mm": [rounded(b, 3) for b in bounds],
            "view_origin_mm": view_origin(bounds),
            "checker_mm": square_for(float((bounds[1] - bounds[0]).max()) / 2),
            "area_m2": surface.area_m2,
            "exact": bool(surface.mesh.exact),
            "elements": any(surface.mesh.part_elements),
            "storeys": any(surface.mesh.part_storeys),
            "sources": [_source(source) for source in surface.mesh.sources],
            "uv_sets": len(surface.mesh.uv_sets),
        },
        "materials": {
            key: {"key": key, **document.body} for key, document in project_laid.contents.materials.items()
        },
        "finishes": [_finish(project_laid, key, areas[key]) for key in project_laid.keys],
        "pick_sets": [
            {
                "key": key,
                "name": d.body["name"],
                "pick": d.body["pick"],
                "words": pick_in_words(d.body["pick"]),
            }
            for key, d in project_laid.contents.pick_sets.items()
        ],
        "views": [{"key": key, **d.body} for key, d in project_laid.contents.views.items()],
        "cover_key": project_laid.cover_key,
        "bare": {
            "faces": len(bare),
            "area_m2": bare_m2,
        },
    }


def _source(source: SourceMaterial) -> dict[str, Any]:
    """A material that the model brought, as the view draws it."""
    return {**asdict(source), "textures": {channel: asdict(texture) for channel, texture in source.textures}}


def _finish(project: LaidProject, key: str, area_m2: float) -> dict[str, Any]:
    body = project.contents.finishes[key].body
    finish = project.finish(key)
    faces = project.drawn(key)
    width, height = finish.material.repeat_mm
    return {
        "key": key,
        # The pick stays here: it may name a hundred thousand faces, and the browser shows it in words.
        **{k: v for k, v in body.items() if k not in ("pick", "adjust")},
        "pick_words": pick_in_words(body["pick"]),
        "turn_deg": finish.placement.turn_deg,
        "repeat_mm": [width * abs(finish.scale[0]), height * abs(finish.scale[1])],
        # What a project saved before these were there stands for.
        "tile": finish.tile,
        "datum_for": finish.datum_for,
        "grain": body.get("grain") or {"along": "sheet"},
        "run_on": finish.run_on,
        "variation": body.get("variation"),
        "one_sheet": finish.is_one_sheet,
        "adjust": [
            {**{k: v for k, v in a.items() if k != "pick"}, "words": pick_in_words(a["pick"])}
            for a in body.get("adjust") or ()
        ],
        "faces": len(faces),
        "held": bool(len(project.held(key))),
        "area_m2": area_m2,
        "laying_key": project.laying_key(key),
    }
