"""Models written by other libraries: the CAD kernel's own STEP writer, and IfcOpenShell."""

from __future__ import annotations

import functools
import os
import tempfile
from pathlib import Path

import ifcopenshell
import ifcopenshell.api
import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_RGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

HOLE_AXIS = np.array([0.0, 0.1, 1.0]) / np.hypot(0.1, 1.0)


def moved(shape, x, y, z):
    move = gp_Trsf()
    move.SetTranslation(gp_Vec(x, y, z))
    return shape.Located(TopLoc_Location(move))


def shapes():
    """A plate with a slanted hole of radius 6 through (20, 20, -1), and one of each round body."""
    plate = BRepPrimAPI_MakeBox(60, 40, 20).Shape()
    hole = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(20, 20, -1), gp_Dir(*HOLE_AXIS)), 6, 40).Shape()
    return {
        "Plate": BRepAlgoAPI_Cut(plate, hole).Shape(),
        "Cone": moved(BRepPrimAPI_MakeCone(10, 4, 15).Shape(), 100, 0, 0),
        "Ball": moved(BRepPrimAPI_MakeSphere(9).Shape(), 140, 0, 0),
        "Ring": moved(BRepPrimAPI_MakeTorus(12, 3).Shape(), 180, 0, 0),
    }


@functools.cache
def step(unit: str = "MM", parts: tuple[str, ...] = ("Plate", "Cone", "Ball", "Ring")) -> bytes:
    """The shapes as an assembly of STEP, the plate red."""
    return step_bytes([(name, shapes()[name]) for name in parts], unit, {"Plate": (0.8, 0.1, 0.1)})


def step_bytes(named, unit="MM", colors=None) -> bytes:
    """Named shapes as an assembly of STEP, by the CAD kernel's own writer; colors (linear RGB) by name."""
    document = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    palette = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    whole = tool.NewShape()
    TDataStd_Name.Set_s(whole, TCollection_ExtendedString("Fixture"))
    for name, shape in named:
        place = shape.Location()
        part = tool.AddShape(shape.Located(TopLoc_Location()), False)
        TDataStd_Name.Set_s(part, TCollection_ExtendedString(name))
        if name in (colors or {}):
            palette.SetColor(part, Quantity_Color(*colors[name], Quantity_TOC_RGB), XCAFDoc_ColorSurf)
        tool.AddComponent(whole, part, place)
    tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.unit", unit)
    with quiet(), tempfile.TemporaryDirectory() as folder:
        writer.Transfer(document)
        writer.Write(f"{folder}/fixture.step")
        return (Path(folder) / "fixture.step").read_bytes()


class quiet:  # noqa: N801
    """The kernel prints what it does; a test's output should not have it."""

    def __enter__(self):
        self.kept, self.nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
        os.dup2(self.nowhere, 1)

    def __exit__(self, *_):
        os.dup2(self.kept, 1)
        os.close(self.kept)
        os.close(self.nowhere)


@functools.cache
def ifc(renamed: bool = False, wider: bool = False) -> bytes:
    """renamed: as another program names its elements; wider: the openings are 1.4 m wide.

    Two storeys 3 m high: a slab of 6 x 4 x 0.2 m below each, a wall of 5 x 3 x 0.2 m with an opening of
    1 x 1.2 m in each, the upper wall of another material."""
    run = ifcopenshell.api.run
    model = run("project.create_file", version="IFC4")
    project = run("root.create_entity", model, ifc_class="IfcProject", name="House")
    run("unit.assign_unit", model, length={"is_metric": True, "raw": "MILLIMETERS"})
    context = run("context.add_context", model, context_type="Model")
    body = run("context.add_context", model, context_type="Model", context_identifier="Body",
               target_view="MODEL_VIEW", parent=context)  # fmt: skip
    building = run("root.create_entity", model, ifc_class="IfcBuilding", name="House")
    run("aggregate.assign_object", model, products=[building], relating_object=project)

    def place(element, x, y, z):
        matrix = np.eye(4)
        matrix[:3, 3] = x, y, z
        run("geometry.edit_object_placement", model, product=element, matrix=matrix)

    def wall_body(element, length, height, thickness):
        shape = run(
            "geometry.add_wall_representation",
            model,
            context=body,
            length=length,
            height=height,
            thickness=thickness,
        )
        run("geometry.assign_representation", model, product=element, representation=shape)

    for number, (name, material) in enumerate((("Ground", "Brick"), ("Upper", "Render"))):
        storey = run("root.create_entity", model, ifc_class="IfcBuildingStorey", name=name)
        run("aggregate.assign_object", model, products=[storey], relating_object=building)
        wall = run(
            "root.create_entity",
            model,
            ifc_class="IfcWall",
            name=f"Basiswand:{4711 + number}" if renamed else f"Wall {number}",
        )
        wall_body(wall, 5, 3, 0.2)
        place(wall, 0, 0, 3 * number)
        slab = run(
            "root.create_entity",
            model,
            ifc_class="IfcSlab",
            name=f"Floor:{815 + number}" if renamed else f"Slab {number}",
        )
        outline = [(0, 0), (6, 0), (6, 4), (0, 4)]
        shape = run("geometry.add_slab_representation", model, context=body, depth=0.2, polyline=outline)
        run("geometry.assign_representation", model, product=slab, representation=shape)
        place(slab, 0, 0, 3 * number - 0.2)
        run("spatial.assign_container", model, products=[wall, slab], relating_structure=storey)
        opening = run("root.create_entity", model, ifc_class="IfcOpeningElement", name="Window opening")
        wall_body(opening, 1.4 if wider else 1, 1.2, 0.6)
        place(opening, 2, -0.2, 3 * number + 0.9)
        run("feature.add_feature", model, feature=opening, element=wall)
        made_of = run("material.add_material", model, name=material)
        run("material.assign_material", model, products=[wall], material=made_of)
    return model.to_string().encode()
