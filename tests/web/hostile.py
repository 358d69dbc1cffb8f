"""Requests that nobody of good will would send: drawn from what the routes say of themselves.

Each route's address comes from the application's map, and its body from the JSON Schema of its own model: mostly as
it should be, with some places exchanged for what does not belong there.
"""

from __future__ import annotations

import inspect
import re
from functools import cache
from typing import Any

from flask import Flask
from hypothesis import strategies as st
from pydantic import BaseModel, TypeAdapter

UPLOADS = frozenset({"imports.start", "projects.open_project_file", "library.upload", "flat.painted"})
BODILESS = frozenset({"library.duplicate", "library.seamless", "baking.begin"})

ASKED = re.compile(r"\basked\((\w+)\)")
QUERIED = re.compile(r"(\w+)\.model_validate\((?:request\.args|query)")


def _named(view: Any, pattern: re.Pattern[str]) -> type[BaseModel] | None:
    """The model that a view, or a function of its module that it calls, reads a request by."""
    view = inspect.unwrap(view)
    for function in (view, *(view.__globals__.get(name) for name in view.__code__.co_names)):
        if inspect.isfunction(function) and function.__module__ == view.__module__:
            found = pattern.search(inspect.getsource(function))
            if found:
                model: type[BaseModel] = function.__globals__[found.group(1)]
                return model
    return None


def models(app: Flask) -> dict[str, type[BaseModel]]:
    """The model of the JSON that each route takes, by its endpoint: read off the routes, so that none is left out."""
    found = {name: _named(view, ASKED) for name, view in app.view_functions.items() if "." in name}
    return {name: model for name, model in found.items() if model is not None}


def queries(app: Flask) -> dict[str, type[BaseModel]]:
    """The model of the query of each route that reads it by one."""
    found = {name: _named(view, QUERIED) for name, view in app.view_functions.items() if "." in name}
    return {name: model for name, model in found.items() if model is not None}


NUMBERS = [
    0,
    1,
    -1,
    2,
    5,
    0.5,
    -0.0,
    1e-300,
    1e15,
    1e200,
    1.7e308,
    -1e308,
    2**31,
    2**63,
    -(2**63) - 1,
    10**30,
    1e9,
    1e11,
]
TEXTS = ["", " ", ".", "..", "F1", "F2", "brick", "oak", "part", "*", "[", "[!", "\0", "\ud800", "é" * 300, "x" * 5000, "../../etc",
         "1e400", "NaN", "-", "(" * 400, "1/0", "5'6\"", "base_color", "P1", "V1", "mm", "9" * 5000, "eJw=", "data:"]  # fmt: skip

hostile = st.one_of(
    st.sampled_from(NUMBERS), st.sampled_from(TEXTS), st.none(), st.booleans(), st.just([]), st.just({}),
    st.just([[[[[[]]]]]]), st.just({"not": {"not": {"all": True}}}), st.just({"faces": "eJxjYAAAAAIAAQ=="}),
    st.floats(), st.text(max_size=8), st.lists(st.sampled_from(NUMBERS), max_size=17),
)  # fmt: skip


def of_schema(schema: dict[str, Any], defs: dict[str, Any], depth: int = 0) -> st.SearchStrategy[Any]:
    """Values as a JSON Schema has them, one in thirty exchanged."""
    return st.integers(0, 29).flatmap(lambda dice: hostile if dice == 29 else _good(schema, defs, depth))


def _good(schema: dict[str, Any], defs: dict[str, Any], depth: int) -> st.SearchStrategy[Any]:
    if "$ref" in schema:
        return _good(defs[schema["$ref"].rsplit("/", 1)[1]], defs, depth + 1)
    for key in ("anyOf", "oneOf"):
        if key in schema:
            # Deep down only what does not hold itself.
            options = [o for o in schema[key] if depth < 6 or "$ref" not in o] or [{"const": {"all": True}}]
            return st.sampled_from(options).flatmap(lambda option: of_schema(option, defs, depth + 1))
    if "const" in schema:
        return st.just(schema["const"])
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    match schema.get("type"):
        case "object":
            return _object(schema, defs, depth)
        case "array":
            return _array(schema, defs, depth)
        case "string":
            return st.sampled_from([*KEYS, "part", "*", "P1", "V1", "a"])
        case "integer":
            return st.one_of(st.integers(0, 7), st.sampled_from(ends(schema, 1)))
        case "number":
            common = st.sampled_from([0.0, 0.5, 1.0, -3.0, 90.0, 500.0])
            return st.one_of(common, common, common, st.sampled_from(ends(schema, 1e-9)))
        case "boolean":
            return st.booleans()
        case "null":
            return st.none()
    return hostile


KEYS = ["F1", "F2", "F3", "F4", "F7", "brick", "oak", "own"]


def ends(schema: dict[str, Any], step: float) -> list[Any]:
    """The least and the greatest that a number may be: what is within bounds has to be answered too."""
    least, most = schema.get("minimum"), schema.get("maximum")
    over, under = schema.get("exclusiveMinimum"), schema.get("exclusiveMaximum")
    out = [] if least is None else [least]
    out += [] if most is None else [most]
    out += [] if over is None else [over + step]
    out += [] if under is None else [under - step]
    return out or [0]


def _object(schema: dict[str, Any], defs: dict[str, Any], depth: int) -> st.SearchStrategy[Any]:
    held = schema.get("properties", {})
    needed = set(schema.get("required", ()))
    if not held:
        return st.dictionaries(st.sampled_from([*TEXTS, "radius_mm", "kind"]), hostile, max_size=3)
    must = {k: of_schema(v, defs, depth) for k, v in held.items() if k in needed}
    may = {k: of_schema(v, defs, depth) for k, v in held.items() if k not in needed}
    return st.fixed_dictionaries(must, optional=may)


def _array(schema: dict[str, Any], defs: dict[str, Any], depth: int) -> st.SearchStrategy[Any]:
    if "prefixItems" in schema:
        return st.tuples(*(of_schema(item, defs, depth) for item in schema["prefixItems"])).map(list)
    least = schema.get("minItems", 0)
    most = min(schema.get("maxItems", least + 4), least + 4)
    return st.lists(of_schema(schema.get("items", {}), defs, depth), min_size=least, max_size=most)


@cache
def schema_of(model: type[BaseModel]) -> dict[str, Any]:
    """What a model says of the JSON that it takes."""
    return TypeAdapter(model).json_schema(mode="validation")


@cache
def body_of(model: type[BaseModel]) -> st.SearchStrategy[Any]:
    """The JSON that a route is sent."""
    schema = schema_of(model)
    return of_schema(schema, schema.get("$defs", {}))


PATH_VALUES = {
    "int": st.sampled_from(["0", "1", "2", "3", "99", str(2**53), str(2**63), str(10**30), "-1", "x"]),
    "default": st.sampled_from(["F1", "F2", "brick", "own", "glb", "obj", "gltf", "x" * 3000, "%00", "..", "a" * 64, "é", "10", "1e400"]),
}  # fmt: skip

QUERIES = st.dictionaries(
    st.sampled_from(["unit", "up", "size_mm", "fault", "size", "view", "key", "spacing", "width", "height", "r", "token", "q"]),
    st.sampled_from(["mm", "z", "1", "0", "-1", "1e400", "nan", "", "x" * 5000, "10", "1e-300", "1e200"]), max_size=2,
)  # fmt: skip
