"""The JSON Schema of everything that goes over the wire, under the names that the front end uses.

`make types` turns it into TypeScript: `python -m pivrel.web.wire.schema`.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel, TypeAdapter
from pydantic.json_schema import models_json_schema

from pivrel.core.sheet.grain import Along
from pivrel.core.sheet.variation import By
from pivrel.formats.units import Unit, Upward
from pivrel.materials.channels import Channel
from pivrel.project.edits.aims import AimModel
from pivrel.project.edits.registry import AnyEdit
from pivrel.project.marks import Marks
from pivrel.recipe import DatumModel, PickModel, ProjectionModel
from pivrel.recipe.masks import MaskModel
from pivrel.recipe.projections import OptionsModel
from pivrel.web.wire import baking, coats, flat, handover, imports, laying, materials, parts, picking, project
from pivrel.web.wire.edits import Based, EditRequest

Json = Any
"""A piece of a JSON Schema."""

SENT: tuple[type[BaseModel], ...] = (
    EditRequest, Based, Marks, AimModel,
    picking.PickRequest, picking.UnseenRequest, picking.TapeRequest, picking.TypedNumber,
    flat.FlatPicture, flat.PatternAsked,
    laying.Preview, laying.SeveralLayings, laying.TrialRequest, materials.MaterialChange,
    imports.ModelReading, imports.Opening, imports.Revising, project.Renaming, baking.BakeAsked, coats.CoatSetNamed,
)  # fmt: skip

ANSWERED: tuple[type[BaseModel], ...] = (
    project.ProjectState, project.ProjectChange, project.ProjectCard, project.Pulse, project.Created, project.SourceUse,
    laying.FiguresByFinish, laying.Totals, laying.AdjustedSides,
    laying.DatumDrawing, laying.Roundness, laying.TrialsHeader, laying.TrialsUnderWay,
    laying.SeamsHeader, laying.ChannelSeams,
    flat.FlatHeader, coats.LinesHeader, coats.CoatSet, coats.KeptCoats, flat.PaintedPicture, flat.BoardsTold,
    laying.StrokesHeader, laying.FaceFigures, laying.CoverHeader, laying.GeometryHeader,
    parts.PartGroup, parts.Framed, picking.Picked, picking.UnseenFaces, picking.TapeRead, picking.NumberRead,
    materials.LibraryMaterial, materials.Reading,
    imports.OpenedFormat, imports.ImportState, imports.CheckedModel, imports.RevisionItem, imports.ItemFaces,
    handover.Overview, baking.Bakeable, baking.BakeState, DatumModel,
)  # fmt: skip

NAMES = {
    "ProjectState": "Project", "ModelState": "Model", "FinishState": "Finish", "MaterialState": "Material",
    "PickSetState": "PickSet", "ViewState": "SavedView", "FiguresState": "Figures", "ChartState": "Chart",
    "FrameState": "Frame", "LineState": "FrameLine",
    "TonedState": "TonedFaces", "FindingState": "Finding", "ProblemState": "Problem",
    "AdjustmentState": "Adjustment", "BareState": "Bare",
    "DatumModel": "Datum", "GrainModel": "GrainRule", "VariationModel": "Variation", "JointsModel": "Joints",
    "ClipBody": "Clip", "LightBody": "SavedLight",
    "AimModel": "Aim", "AxisMaterialsModel": "AxisMaterials", "EyeModel": "EyeSent",
    "PlaceModel": "PlaceModel", "CheckedModel": "CheckedModel",

}  # fmt: skip
"""Models whose name in TypeScript is another; "Model" at the end of a name is left away."""

UNIONS: Mapping[str, Json] = {
    "Pick": PickModel, "Mask": MaskModel,
    "Projection": ProjectionModel, "Options": OptionsModel, "Edit": AnyEdit, "Level": picking.Level,
    "ListedBy": parts.ListedBy,
    "Way": picking.Way, "FigureName": picking.Figure, "Channel": Channel, "Along": Along, "By": By,
    "Unit": Unit, "Upward": Upward, "ModelAxis": Literal["+x", "-x", "+y", "-y", "+z", "-z"], "Pair": tuple[float, float],
    "Triple": tuple[float, float, float], "Typed": float | str,
}  # fmt: skip
"""Types without a class of their own that have a name in TypeScript."""

Mode = Literal["validation", "serialization"]


def named(key: str) -> str:
    """The name of a definition in TypeScript. What is sent may leave out defaults, so it is a type of its own."""
    stem = key.removesuffix("-Input").removesuffix("-Output")
    name = NAMES.get(stem, stem.removesuffix("Model"))
    return f"{name}Sent" if key.endswith("-Input") else name


def wire_schema() -> dict[str, Json]:
    """One JSON Schema with a definition for every model and every named union."""
    pairs: list[tuple[type[BaseModel], Mode]] = [
        *((model, "validation") for model in SENT),
        *((model, "serialization") for model in ANSWERED),
    ]
    _, whole = models_json_schema(pairs, ref_template="#/$defs/{model}")
    raw: dict[str, Json] = whole["$defs"]
    defs = {named(key): _for_typescript(schema, raw) for key, schema in raw.items()}
    for name, schema in defs.items():
        schema["title"] = name
    found = _merged(_with_unions(defs))
    return {"$defs": found, "title": "Wire", "type": "object", "additionalProperties": False}


def _merged(defs: dict[str, Json]) -> dict[str, Json]:
    """The definitions without those of what is sent that are the same as what is answered."""
    same = {name for name in defs if name.endswith("Sent") and name.removesuffix("Sent") in defs}

    def text(name: str) -> str:
        out = json.dumps({**defs[name], "title": ""}, sort_keys=True)
        for other in same:
            out = out.replace(f'"#/$defs/{other}"', f'"#/$defs/{other.removesuffix("Sent")}"')
        return out

    while different := {name for name in same if text(name) != text(name.removesuffix("Sent"))}:
        same -= different
    return {name: json.loads(text(name)) | {"title": name} for name in defs if name not in same}


def _with_unions(defs: dict[str, Json]) -> dict[str, Json]:
    """The definitions with the unions that have a name referred to by it."""
    out = dict(defs)
    known: dict[str, str] = {}
    modes: tuple[Mode, ...] = ("serialization", "validation")
    for name, kind in UNIONS.items():
        for mode in modes:
            schema = TypeAdapter(kind).json_schema(mode=mode, ref_template="#/$defs/{model}")
            own = schema.pop("$defs", {})
            # A model that differs by mode goes by two names in the whole.
            suffix = "-Input" if mode == "validation" else "-Output"
            renamed = {key: f"{key}{suffix}" if f"{named(key)}Sent" in defs else key for key in own}
            body = _for_typescript(_renamed(schema, renamed), own)
            text = json.dumps(body, sort_keys=True)
            if text not in known:
                known[text] = f"{name}Sent" if name in out else name
                out[known[text]] = {**body, "title": known[text]}
    return {key: _referring(schema, known, key) for key, schema in out.items()}


def _renamed(schema: Json, names: Mapping[str, str]) -> Json:
    text = json.dumps(schema)
    for old, new in names.items():
        text = text.replace(f'"#/$defs/{old}"', f'"#/$defs/{new}"')
    return json.loads(text)


def _referring(schema: Json, known: Mapping[str, str], own: str) -> Json:
    """The schema with named unions in the place of their alternatives."""

    def replaced(piece: Json) -> Json:
        name = known.get(json.dumps(piece, sort_keys=True))
        return {"$ref": f"#/$defs/{name}"} if name and name != own else piece

    def inner(piece: Json) -> Json:
        if isinstance(piece, dict):
            return replaced({key: inner(value) for key, value in piece.items()})
        return [inner(p) for p in piece] if isinstance(piece, list) else piece

    title = schema.get("title")
    body = {key: inner(value) for key, value in schema.items() if key != "title"}
    return {**body, "title": title}


BOUNDS = {"minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "minLength", "maxLength", "pattern", "default",
          "discriminator"}  # fmt: skip


def _for_typescript(schema: Json, defs: Mapping[str, Json]) -> Json:
    """A schema as the library for TypeScript reads it: references by their new names, tuples as lists of items."""
    if isinstance(schema, list):
        return [_for_typescript(piece, defs) for piece in schema]
    if not isinstance(schema, dict):
        return schema
    out: dict[str, Json] = {}
    for key, value in schema.items():
        if key in BOUNDS or (key == "title" and isinstance(value, str)):
            continue
        match key:
            case "$ref":
                out[key] = f"#/$defs/{named(value.rsplit('/', 1)[1])}"
            case "prefixItems":
                out["items"] = _for_typescript(value, defs)
            case "properties":
                out[key] = {name: _for_typescript(inner, defs) for name, inner in value.items()}
            case "oneOf":
                out["anyOf"] = _for_typescript(value, defs)
            case "minItems" | "maxItems":
                if "prefixItems" in schema:
                    out[key] = value
            case _:
                out[key] = _for_typescript(value, defs)
    return _by_names(out)


def _by_names(schema: dict[str, Json]) -> dict[str, Json]:
    """An object whose keys are known, as one with these properties, none of which has to be there."""
    keys = schema.get("propertyNames", {}).get("enum")
    if not keys:
        schema.pop("propertyNames", None)
        return schema
    return {
        "type": "object",
        "properties": dict.fromkeys(keys, schema["additionalProperties"]),
        "additionalProperties": False,
    }


if __name__ == "__main__":
    json.dump(wire_schema(), sys.stdout, indent=1)
