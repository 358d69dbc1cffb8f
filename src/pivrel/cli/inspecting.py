"""`pivrel inspect`: what a model is made of, and what is wrong with it."""

from __future__ import annotations

import argparse
import json
from collections import Counter
from typing import Any

import numpy as np

from pivrel.cli.models import load_model
from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.mesh import Mesh, SourceMaterial
from pivrel.core.geometry.surface import Surface
from pivrel.formats.imported import Imported
from pivrel.jobs.import_report import sentence


def inspection(imported: Imported) -> dict[str, Any]:
    """What is known of a model before anything is laid."""
    mesh, surface = imported.mesh, Surface(imported.mesh)
    faces_per_part = np.bincount(mesh.face_part, minlength=len(mesh.part_names)).tolist()
    found = [*imported.found, *(sentence(fault) for fault in find_faults(surface))]
    patches = surface.patches()
    return {
        "parts": [_part_json(mesh, part, faces) for part, faces in enumerate(faces_per_part)],
        "faces": mesh.face_count,
        "triangles": len(surface.triangles),
        "patches": int(patches.max()) + 1,
        **({"surfaces": surfaces_json(mesh)} if mesh.exact else {}),
        "bounds_mm": mesh.bounds().tolist(),
        "area_m2": float(surface.face_areas.sum()) / 1e6,
        "unit": imported.unit,
        "up": imported.up,
        "guessed": imported.guessed,
        **({"why": imported.why} if imported.guessed else {}),
        "materials": [_source_json(source) for source in mesh.sources],
        "images": len(imported.images),
        "uv_sets": len(mesh.uv_sets),
        **({"tolerance_mm": imported.tolerance_mm} if imported.tolerance_mm else {}),
        "found": found,
    }


def _source_json(source: SourceMaterial) -> dict[str, Any]:
    return {
        "name": source.name,
        "color": list(source.rgba),
        "images": [channel for channel, _ in source.textures],
    }


def _part_json(mesh: Mesh, part: int, faces: int) -> dict[str, Any]:
    out: dict[str, Any] = {"name": mesh.part_names[part], "faces": faces}
    if mesh.part_elements:
        out |= {"element": mesh.part_elements[part], "storey": mesh.part_storeys[part]}
    return out


def surfaces_json(mesh: Mesh) -> list[dict[str, Any]]:
    """The exact surface of each patch, with what its kind has."""
    out = []
    for patch, surface in enumerate(mesh.exact):
        stated: dict[str, Any] = {"patch": patch, "kind": surface.kind}
        if surface.kind != "free-form":
            stated |= {"origin_mm": surface.origin_mm, "axis": surface.axis}
        if surface.kind not in ("plane", "free-form"):
            stated["radius_mm"] = surface.radius_mm
        if surface.kind == "torus":
            stated["tube_mm"] = surface.tube_mm
        if surface.kind == "cone":
            stated["half_angle_deg"] = surface.half_angle_deg
        out.append(stated)
    return out


def inspect(args: argparse.Namespace) -> None:
    """Prints what a model is made of."""
    facts = inspection(load_model(args.model, args))
    if args.json:
        print(json.dumps(facts, indent=2, ensure_ascii=False))
        return
    low, high = facts["bounds_mm"]
    size = " x ".join(f"{b - a:,.1f}" for a, b in zip(low, high, strict=True))
    print(f"parts: {len(facts['parts'])}")
    for part in facts["parts"]:
        print(f"  {part['name']}: {part['faces']} faces")
    print(f"faces: {facts['faces']}, triangles: {facts['triangles']}, patches: {facts['patches']}")
    print(f"size: {size} mm, from {np.round(low, 3).tolist()} to {np.round(high, 3).tolist()}")
    print(
        f"unit: {facts['unit']}, up: {facts['up']}{' (guessed: ' + facts['why'] + ')' if facts['guessed'] else ''}"
    )
    print(f"materials: {len(facts['materials'])}, images: {facts['images']}, UV sets: {facts['uv_sets']}")
    for kind, count in Counter(row["kind"] for row in facts.get("surfaces", ())).items():
        print(f"surfaces: {count} of kind {kind}")
    for line in facts["found"] or ["nothing wrong"]:
        print(f"found: {line}")
