"""STEP (ISO 10303-21, AP203/214/242) through the CAD kernel: parts, colors, exact surfaces."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepLib import BRepLib_ToolTriangulatedShape
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.collections import Sequence_TCollection_AsciiString
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.IFSelect import IFSelect_RetDone
from OCP.Quantity import Quantity_Color
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_FACE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_ColorTool, XCAFDoc_DocumentTool
from OCP.XCAFPrs import XCAFPrs_DocumentExplorer, XCAFPrs_DocumentExplorerFlags_OnlyLeafNodes

from pivrel.core.arrays import Floats
from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.frames import Vector
from pivrel.core.geometry.mesh import REACH_MM, Mesh, MeshError, SourceMaterial, checked
from pivrel.formats.bundle import FormatError
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.kernel import hush
from pivrel.formats.model.stl import unique_names
from pivrel.formats.source_images import SourceImages
from pivrel.materials import srgb

Tell = Callable[[str, float], None]

ANGLE_RAD = 0.1
"""The widest angle between neighbouring facets: a cylinder of 63 strips, its chords 0.04 % short."""

SHARE_OF_SIZE = 5e-4
"""The sagitta left to facets, as a share of the model's size, where none is asked for."""

UNIT_NAMES = {"millimetre": "mm", "centimetre": "cm", "metre": "m", "inch": "in", "foot": "ft"}


@dataclass(frozen=True)
class StepModel:
    """What a STEP file holds, and how finely it was cut into facets."""

    mesh: Mesh
    unit: str
    tolerance_mm: float
    found: list[str]


def read_step(data: bytes, tolerance_mm: float | None = None, tell: Tell = lambda *_: None) -> StepModel:
    """The model in millimetres, Z up. FormatError where the kernel cannot read it.

    tolerance_mm: how far facets may lie from the true surface; by the model's size where None. The same
    file and tolerance give the same facets.
    """
    if not data.lstrip()[:13].upper().startswith(b"ISO-10303-21"):
        raise FormatError("this is not a STEP file: it does not begin with ISO-10303-21")
    tell("reading the STEP file", 0.0)
    _refuse_far_points(data)
    try:
        return _read(data, tolerance_mm, tell)
    except FormatError:
        raise
    except Exception as error:
        # The kernel's failures are exceptions of many kinds, some without a word.
        why = (str(error).strip().splitlines() or ["no reason given"])[0][:200]
        raise FormatError(f"the CAD kernel cannot read the STEP file ({why})") from None


_POINT = re.compile(rb"CARTESIAN_POINT\s*\(\s*'[^']*'\s*,\s*\(([^()]{0,200})\)")
_LARGE = re.compile(rb"\d{12}|[Ee]\+?\d{2}")


def _refuse_far_points(data: bytes) -> None:
    """FormatError for a point where nothing can be computed: the kernel would cut its faces for ever."""
    for found in _POINT.finditer(data):
        if not _LARGE.search(found.group(1)):
            continue
        for number in found.group(1).split(b","):
            try:
                far = abs(float(number)) > REACH_MM
            except ValueError:
                continue
            if far:
                line = data.count(b"\n", 0, found.start()) + 1
                raise FormatError(
                    f"line {line} has a point at {number.decode().strip()}, which is out of reach"
                )


def _read(data: bytes, tolerance_mm: float | None, tell: Tell) -> StepModel:
    document, unit = _document(data)
    leaves = list(_leaves(document))
    if not leaves:
        raise FormatError("the file has no shapes")
    box = Bnd_Box()
    for leaf in leaves:
        BRepBndLib.Add_s(leaf.shape, box)
    if box.IsVoid():
        raise FormatError("the file's shapes have no faces")
    size = float(np.sqrt(box.SquareExtent()))
    tolerance = tolerance_mm or max(size * SHARE_OF_SIZE, 1e-4)
    out = _Collected(XCAFDoc_DocumentTool.ColorTool_s(document.Main()))
    for at, leaf in enumerate(leaves):
        tell("cutting faces into facets", at / len(leaves))
        out.add(leaf, tolerance)
    return StepModel(out.mesh([leaf.name for leaf in leaves]), unit, tolerance, out.found())


@dataclass(frozen=True)
class _Leaf:
    """A part of the assembly where it stands; color linear RGBA where the part as a whole has one."""

    name: str
    shape: Any
    color: tuple[float, float, float, float] | None


def _document(data: bytes) -> tuple[Any, str]:
    """The kernel's document and the unit that the file states."""
    hush()
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    with tempfile.NamedTemporaryFile(suffix=".step") as file:
        file.write(data)
        file.flush()
        if reader.ReadFile(file.name) != IFSelect_RetDone:
            raise FormatError("the CAD kernel cannot read the STEP file: its data section is broken")
    document = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    lengths, angles, solid = (Sequence_TCollection_AsciiString() for _ in range(3))
    reader.ChangeReader().FileUnits(lengths, angles, solid)
    stated = lengths.Value(1).ToCString() if lengths.Length() else "millimetre"
    if not reader.Transfer(document):
        raise FormatError("the CAD kernel finds no shapes in the STEP file")
    return document, UNIT_NAMES.get(stated.lower(), "mm")


def _leaves(document: Any) -> Iterator[_Leaf]:
    explorer = XCAFPrs_DocumentExplorer(document, XCAFPrs_DocumentExplorerFlags_OnlyLeafNodes)
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    while explorer.More():
        node = explorer.Current()
        names = [_name(explorer.Current(depth).RefLabel) for depth in range(explorer.CurrentDepth() + 1)]
        shape = shapes.GetShape_s(node.RefLabel)
        if not shape.IsNull():
            style = node.Style
            color = _rgba(style.GetColorSurf()) if style.IsSetColorSurf() else None
            name = "/".join(dict.fromkeys(n for n in names if n)) or "part"
            yield _Leaf(name, shape.Located(node.Location), color)
        explorer.Next()


def _name(label: Any) -> str:
    attribute = TDataStd_Name()
    if not label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        return ""
    return str(attribute.Get().ToExtString()).strip().replace("/", "-")


def _rgba(color: Quantity_Color) -> tuple[float, float, float, float]:
    return (round(color.Red(), 4), round(color.Green(), 4), round(color.Blue(), 4), 1.0)


@dataclass
class _Collected:
    """Facets face by face, as the mesh will hold them."""

    colors: XCAFDoc_ColorTool
    points: list[Floats] = field(default_factory=list)
    normals: list[Floats] = field(default_factory=list)
    triangles: list[np.ndarray] = field(default_factory=list)
    part: list[int] = field(default_factory=list)
    source: list[int] = field(default_factory=list)
    exact: list[ExactSurface] = field(default_factory=list)
    sources: dict[tuple[float, float, float, float], int] = field(default_factory=dict)
    parts: int = 0
    uncut: int = 0

    def add(self, leaf: _Leaf, tolerance: float) -> None:
        """Cuts a part into facets, one B-rep face after the other."""
        BRepMesh_IncrementalMesh(leaf.shape, tolerance, False, ANGLE_RAD, True)
        explorer = TopExp_Explorer(leaf.shape, TopAbs_FACE)
        while explorer.More():
            self._face(TopoDS.Face(explorer.Current()), leaf.color)
            explorer.Next()
        self.parts += 1

    def _face(self, face: Any, part_color: tuple[float, float, float, float] | None) -> None:
        place = TopLoc_Location()
        cut = BRep_Tool.Triangulation_s(face, place)
        if cut is None or not cut.NbTriangles():
            self.uncut += 1
            return
        BRepLib_ToolTriangulatedShape.ComputeNormals_s(face, cut)
        move = place.Transformation()
        # A mirrored placement turns the facets over, as a reversed face does.
        over = (face.Orientation() == TopAbs_REVERSED) != (move.VectorialPart().Determinant() < 0)
        nodes = [cut.Node(i).Transformed(move) for i in range(1, cut.NbNodes() + 1)]
        normals = [cut.Normal(i).Transformed(move) for i in range(1, cut.NbNodes() + 1)]
        sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
        triangles = np.array([cut.Triangle(i).Get() for i in range(1, cut.NbTriangles() + 1)], np.int64) - 1
        points = np.array([(p.X(), p.Y(), p.Z()) for p in nodes])
        # The kernel leaves facets without area where a surface closes to a point.
        a, b, c = (points[triangles[:, k]] for k in range(3))
        triangles = triangles[np.linalg.norm(np.cross(b - a, c - a), axis=1) > 0]
        self.points.append(points)
        self.normals.append(sign * np.array([(n.X(), n.Y(), n.Z()) for n in normals]))
        self.triangles.append(triangles[:, ::-1] if over else triangles)
        self.part.append(self.parts)
        self.exact.append(exact_surface(face))
        own = Quantity_Color()
        color = _rgba(own) if self.colors.GetColor(face, XCAFDoc_ColorSurf, own) else part_color
        self.source.append(-1 if color is None else self.sources.setdefault(color, len(self.sources)))

    def found(self) -> list[str]:
        """What the artist is told."""
        return [f"{self.uncut} faces could not be cut into facets and were left out"] if self.uncut else []

    def mesh(self, names: list[str]) -> Mesh:
        """Everything collected. FormatError where there is nothing."""
        if not self.triangles:
            raise FormatError("the file's shapes have no faces")
        base = np.cumsum([0] + [len(p) for p in self.points])
        corners = np.concatenate([(t + base[i]).reshape(-1) for i, t in enumerate(self.triangles)])
        each = np.array([len(t) for t in self.triangles])
        normals = np.concatenate(self.normals)[corners]
        sound = bool(np.isfinite(normals).all() and (np.linalg.norm(normals, axis=1) > 0.5).all())
        mesh = Mesh(
            points=np.concatenate(self.points),
            corners=corners.astype(np.int32),
            face_start=np.arange(0, len(corners) + 1, 3, dtype=np.int32),
            face_part=np.repeat(np.array(self.part, np.int32), each),
            part_names=unique_names(names),
            normals=normals.astype(np.float32) if sound else None,
            face_source=np.repeat(np.array(self.source, np.int32), each),
            sources=tuple(SourceMaterial(_color_name(c), c) for c in self.sources),
            face_patch=np.repeat(np.arange(len(each), dtype=np.int32), each),
            exact=tuple(self.exact),
        )
        try:
            return checked(mesh)
        except MeshError as error:
            raise FormatError(str(error)) from None


def _color_name(rgba: tuple[float, float, float, float]) -> str:
    """The color as CSS writes it (sRGB), since STEP colors have no names of their own."""
    shown = np.clip(srgb.coded(np.array(rgba[:3])), 0, 1)
    return "color #" + "".join(f"{round(float(c) * 255):02x}" for c in shown)


def exact_surface(face: Any) -> ExactSurface:
    """The surface of a B-rep face where it stands."""
    adaptor = BRepAdaptor_Surface(face)
    outward = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
    match adaptor.GetType():
        case GeomAbs_SurfaceType.GeomAbs_Plane:
            plane = adaptor.Plane()
            axis = plane.Axis().Direction()
            sense = outward if plane.Direct() else -outward
            return ExactSurface("plane", _xyz(plane.Location()), _xyz(axis, sense))
        case GeomAbs_SurfaceType.GeomAbs_Cylinder:
            cylinder = adaptor.Cylinder()
            return ExactSurface(
                "cylinder", _xyz(cylinder.Location()), _xyz(cylinder.Axis().Direction()), cylinder.Radius()
            )
        case GeomAbs_SurfaceType.GeomAbs_Cone:
            cone = adaptor.Cone()
            half = float(np.degrees(cone.SemiAngle()))
            return ExactSurface(
                "cone", _xyz(cone.Location()), _xyz(cone.Axis().Direction()), cone.RefRadius(), 0.0, half
            )
        case GeomAbs_SurfaceType.GeomAbs_Sphere:
            sphere = adaptor.Sphere()
            return ExactSurface(
                "sphere", _xyz(sphere.Location()), _xyz(sphere.Position().Direction()), sphere.Radius()
            )
        case GeomAbs_SurfaceType.GeomAbs_Torus:
            torus = adaptor.Torus()
            return ExactSurface(
                "torus",
                _xyz(torus.Location()),
                _xyz(torus.Axis().Direction()),
                torus.MajorRadius(),
                torus.MinorRadius(),
            )
    return ExactSurface("free-form")


def _xyz(of: Any, sense: float = 1.0) -> Vector:
    return (sense * of.X() + 0.0, sense * of.Y() + 0.0, sense * of.Z() + 0.0)


def read(given: GivenFile) -> FoundModel:
    """A STEP in facets, with its exact surfaces."""
    step = read_step(given.data, given.tolerance_mm, given.tell)
    return FoundModel(step.mesh, step.unit, SourceImages(found=list(step.found)), step.tolerance_mm)
