"""IFC (ISO 16739): elements with type, name, storey and material, openings cut, through IfcOpenShell."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any, NamedTuple

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.element
import ifcopenshell.util.unit
import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial, checked
from pivrel.formats.bundle import FormatError
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.stl import unique_names
from pivrel.formats.source_images import SourceImages
from pivrel.formats.units import MM

Tell = Callable[[str, float], None]

NOT_BUILT = ("IfcOpeningElement", "IfcSpace", "IfcAnnotation", "IfcGrid")
"""Elements whose bodies are voids, rooms and drawing aids, which carry no finish."""

WITHOUT_HOLES = 1
"""Whole polygons, cut where they have holes, in place of triangles."""


def read_ifc(data: bytes, tell: Tell = lambda *_: None) -> tuple[Mesh, str, list[str]]:
    """The model in millimetres, Z up; the file's unit; what was found. FormatError where it is broken."""
    if not data.lstrip()[:13].upper().startswith(b"ISO-10303-21"):
        raise FormatError("this is not an IFC file: it does not begin with ISO-10303-21")
    tell("reading the IFC file", 0.0)
    try:
        file = ifcopenshell.file.from_string(data.decode("latin-1"))
        if not file.by_type("IfcProject"):
            raise FormatError("the IFC file has no IfcProject, so nothing in it has a place or a unit")
        return _Elements(file).read(tell), _unit(file), _left_out(file)
    except FormatError:
        raise
    except Exception as error:
        # The library raises bare exceptions of many kinds for broken files.
        raise FormatError(f"the IFC file is broken ({_first_line(error)})") from None


def _first_line(error: Exception) -> str:
    return (str(error).strip().splitlines() or ["no reason given"])[0][:200]


def _unit(file: Any) -> str:
    mm = ifcopenshell.util.unit.calculate_unit_scale(file) * 1000
    return min(MM, key=lambda name: abs(np.log(MM[name] / mm)))


def _left_out(file: Any) -> list[str]:
    rooms = len(file.by_type("IfcSpace"))
    return [f"{rooms} rooms (IfcSpace) were left out; they have no surfaces of their own"] if rooms else []


class Row(NamedTuple):
    """An element: its number in the file, its points in mm, and its faces with the source of each."""

    number: int
    element: Any
    points: Floats
    faces: list[tuple[int, ...]]
    sources: list[int]


class _Elements:
    """One walk over the elements, a part each."""

    def __init__(self, file: Any) -> None:
        self.file = file
        self.settings: Any = ifcopenshell.geom.settings()
        self.settings.set("use-world-coords", True)
        self.settings.set("triangulation-type", WITHOUT_HOLES)
        self.sources: dict[SourceMaterial, int] = {}

    def read(self, tell: Tell) -> Mesh:
        there = {e.is_a() for e in self.file.by_type("IfcProduct")}
        without = [kind for kind in NOT_BUILT if kind in there]
        workers = os.cpu_count() or 1
        shapes: Any = ifcopenshell.geom.iterator(self.settings, self.file, workers, exclude=without or None)
        if not shapes.initialize():
            raise FormatError("the IFC file has no elements with a body")
        rows: list[Row] = []
        while True:
            tell("building the elements", shapes.progress() / 100)
            row = self._element(shapes.get())
            rows += [row] if row else []
            if not shapes.next():
                break
        # The iterator works in parallel and hands shapes over as they are done: the file's own order is steady.
        return self._merged(sorted(rows, key=lambda row: row.number))

    def _element(self, shape: Any) -> Row | None:
        geometry = shape.geometry
        faces = [tuple(face) for face in geometry.polyhedral_faces_without_holes if len(face) >= 3]
        if not faces:
            return None
        element = self.file.by_id(shape.id)
        points = np.array(geometry.verts, np.float64).reshape(-1, 3) * 1000
        own = self._material(element)
        styles = [own or self._style(style) for style in geometry.materials]
        index = [self.sources.setdefault(style, len(self.sources)) for style in styles]
        ids = list(geometry.material_ids)
        chosen = [index[i] if 0 <= i < len(index) else -1 for i in ids]
        return Row(shape.id, element, points, faces, chosen)

    def _material(self, element: Any) -> SourceMaterial | None:
        """The material that the element is made of; the outer one where it has layers."""
        material = ifcopenshell.util.element.get_material(element, should_skip_usage=True)
        named = list(ifcopenshell.util.element.get_materials(element)) if material else []
        return SourceMaterial(named[0].Name or "material") if named else None

    def _style(self, style: Any) -> SourceMaterial:
        r, g, b = (float(c) for c in style.diffuse.components)
        return SourceMaterial(style.name or "material", (r, g, b, 1.0))

    def _merged(self, rows: list[Row]) -> Mesh:
        if not rows:
            raise FormatError("the IFC file has no elements with a body")
        base = np.cumsum([0] + [len(row.points) for row in rows])
        corners = [c + int(base[i]) for i, row in enumerate(rows) for face in row.faces for c in face]
        lengths = [len(face) for row in rows for face in row.faces]
        elements = [row.element for row in rows]
        mesh = Mesh(
            points=np.concatenate([row.points for row in rows]),
            corners=np.array(corners, np.int32),
            face_start=np.concatenate([[0], np.cumsum(lengths)]).astype(np.int32),
            face_part=np.repeat(np.arange(len(rows), dtype=np.int32), [len(row.faces) for row in rows]),
            part_names=unique_names([e.Name or e.is_a() for e in elements]),
            face_source=np.array([s for row in rows for s in row.sources], np.int32),
            sources=tuple(self.sources),
            part_elements=tuple(_element_name(e) for e in elements),
            part_storeys=tuple(_storey(e) for e in elements),
        )
        try:
            return checked(mesh)
        except MeshError as error:
            raise FormatError(str(error)) from None


def _element_name(element: Any) -> str:
    """The entity's name without the schema's prefix: "Wall" for IfcWall and IfcWallStandardCase."""
    return str(element.is_a()).removeprefix("Ifc").removesuffix("StandardCase")


def _storey(element: Any) -> str:
    container = ifcopenshell.util.element.get_container(element, ifc_class="IfcBuildingStorey")
    return str(container.Name or "") if container else ""


def read(given: GivenFile) -> FoundModel:
    """An IFC with its elements and storeys."""
    mesh, unit, found = read_ifc(given.data, given.tell)
    return FoundModel(mesh, unit, SourceImages(found=found))
