"""Models that other people made, as packages of the registries ship them; and a cup with a handle by formula."""

from __future__ import annotations

import importlib.util
import json
import re
from pathlib import Path

import numpy as np
import trimesh
from skimage.measure import marching_cubes

from pivrel.core.geometry.surface import Surface
from tests.shapes import mesh_of

MODULES = Path(__file__).resolve().parent.parent / "frontend" / "node_modules"


def compas_sample(name: str) -> Path:
    """A sample of the COMPAS framework (compas 2.15.1, MIT licence)."""
    found = importlib.util.find_spec("compas")
    assert found and found.submodule_search_locations, "compas is in requirements-dev.txt"
    return Path(found.submodule_search_locations[0]) / "data" / "samples" / name


def of_compas(name: str) -> Surface:
    """The same as a surface a metre long."""
    mesh = trimesh.load_mesh(compas_sample(name))
    return sized(mesh.vertices, mesh.faces)


def of_npm(package: str) -> Surface:
    """The mesh of an npm package that exports positions and cells (bunny 1.0.1, teapot 1.0.0; public domain)."""
    (source,) = (MODULES / package).glob("*.js")
    text = source.read_text()
    positions, cells = (
        np.array(json.loads(re.findall(rf"exports\.{name}\s*=\s*(\[\[.*?\]\])", text, re.DOTALL)[0]))
        for name in ("positions", "cells")
    )
    return sized(positions, cells)


def sized(points: np.ndarray, triangles: np.ndarray) -> Surface:
    """A surface a metre long."""
    return Surface(mesh_of(points * (1000 / np.ptp(points, axis=0).max()), triangles))


def cup(cells: int = 34) -> Surface:
    """A cup of 90 mm with its handle grown on: one closed surface that a string can be drawn through."""
    lows, highs = np.array([-1.2, -1.2, -0.2]), np.array([2.0, 1.2, 2.2])
    counts = [int(cells * 1.6), int(cells * 1.2), int(cells * 1.2)]
    axes = [np.linspace(low, high, n) for low, high, n in zip(lows, highs, counts, strict=True)]
    x, y, z = np.meshgrid(*axes, indexing="ij")
    radius = np.hypot(x, y)
    body = np.maximum(np.maximum(radius - 1, np.maximum(-z, z - 2)), -np.maximum(radius - 0.86, 0.16 - z))
    handle = np.maximum(np.hypot(np.hypot(x - 1, z - 1) - 0.55, y) - 0.11, 0.93 - radius)
    # One flows into the other over a few mm.
    h = np.clip(0.5 + 0.5 * (handle - body) / 0.06, 0, 1)
    filled = handle * (1 - h) + body * h - 0.06 * h * (1 - h)
    points, triangles, _, _ = marching_cubes(filled, 0.0)
    step = [axis[1] - axis[0] for axis in axes]
    return Surface(mesh_of(points * step * 45.0, triangles[:, ::-1]))
