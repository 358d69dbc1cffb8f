"""The third demo model: a towel hook on a bracket, made up, as a STEP file of exact surfaces."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_RGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_EDGE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from pivrel.formats.model.kernel import hush

PLATE = (60.0, 8.0, 120.0)
BORE_RADIUS, SINK_RADIUS = 2.6, 5.2
ARM_RADIUS, BEND_RADIUS, BALL_RADIUS = 7.0, 20.0, 11.0
BORES = ((30.0, 18.0), (30.0, 102.0))
ARM_AT = (30.0, 52.0)

BRASS, STEEL = (0.72, 0.52, 0.22), (0.55, 0.56, 0.58)


def step() -> bytes:
    """The bracket as the bytes of a STEP file in millimetres; Y runs out of the wall, towards -Y."""
    hush()
    document = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colors = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    whole = tool.NewShape()
    TDataStd_Name.Set_s(whole, TCollection_ExtendedString("Towel hook"))
    for name, shape, color in (("Wall plate", _plate(), STEEL), ("Hook", _hook(), BRASS)):
        part = tool.AddShape(shape, False)
        TDataStd_Name.Set_s(part, TCollection_ExtendedString(name))
        colors.SetColor(part, Quantity_Color(*color, Quantity_TOC_RGB), XCAFDoc_ColorSurf)
        tool.AddComponent(whole, part, shape.Location())
    tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    # The kernel keeps the unit for its whole process; whoever wrote before may have used another.
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "towel-hook.step"
        writer.Transfer(document)
        writer.Write(str(path))
        return path.read_bytes()


def _out_of_wall(x: float, y: float, z: float) -> gp_Ax2:
    return gp_Ax2(gp_Pnt(x, y, z), gp_Dir(0, -1, 0))


def _plate() -> Any:
    """A plate with rounded upright edges and two countersunk bores."""
    plate = BRepPrimAPI_MakeBox(*PLATE).Shape()
    rounded = BRepFilletAPI_MakeFillet(plate)
    edges = TopExp_Explorer(plate, TopAbs_EDGE)
    seen: list[Any] = []
    while edges.More():
        edge = TopoDS.Edge(edges.Current())
        if not any(edge.IsSame(other) for other in seen) and _runs_along_y(edge):
            rounded.Add(6.0, edge)
        seen.append(edge)
        edges.Next()
    shape = rounded.Shape()
    for x, z in BORES:
        bore = BRepPrimAPI_MakeCylinder(_out_of_wall(x, PLATE[1] + 1, z), BORE_RADIUS, PLATE[1] + 2).Shape()
        depth = SINK_RADIUS - BORE_RADIUS
        sink = BRepPrimAPI_MakeCone(_out_of_wall(x, depth, z), BORE_RADIUS, SINK_RADIUS, depth).Shape()
        shape = BRepAlgoAPI_Cut(BRepAlgoAPI_Cut(shape, bore).Shape(), sink).Shape()
    return shape


def _runs_along_y(edge: Any) -> bool:
    curve = BRepAdaptor_Curve(edge)
    a, b = curve.Value(curve.FirstParameter()), curve.Value(curve.LastParameter())
    return abs(abs(a.Y() - b.Y()) - PLATE[1]) < 1e-9


def _hook() -> Any:
    """An arm out of the wall, a bend upwards, and a ball at the end."""
    x, z = ARM_AT
    reach = 45.0
    arm = BRepPrimAPI_MakeCylinder(_out_of_wall(x, 0, z), ARM_RADIUS, reach).Shape()
    # A quarter of a ring about an axis along X, from the arm's end upwards.
    middle = gp_Pnt(x, -reach, z + BEND_RADIUS)
    quarter = gp_Ax2(middle, gp_Dir(-1, 0, 0), gp_Dir(0, 0, -1))
    bend = BRepPrimAPI_MakeTorus(quarter, BEND_RADIUS, ARM_RADIUS, 1.5707963267948966).Shape()
    top = gp_Pnt(x, -reach - BEND_RADIUS, z + BEND_RADIUS)
    stem = BRepPrimAPI_MakeCylinder(gp_Ax2(top, gp_Dir(0, 0, 1)), ARM_RADIUS, 18.0).Shape()
    ball = BRepPrimAPI_MakeSphere(gp_Pnt(top.X(), top.Y(), top.Z() + 24.0), BALL_RADIUS).Shape()
    shape = arm
    for more in (bend, stem, ball):
        shape = BRepAlgoAPI_Fuse(shape, more).Shape()
    return shape
