"""Patterns to cut by: read again from their files, they fold to what they were taken from."""

import io
from xml.etree import ElementTree as Et

import numpy as np
import pytest
import shapely
from ezdxf import filemanagement

from pivrel.core.geometry.surface import Surface
from pivrel.core.pattern.pattern import find_pattern
from pivrel.core.projection import Flatten
from pivrel.core.sheet import Material
from pivrel.formats.pattern.dxf import ANGLE, write_dxf
from pivrel.formats.pattern.layers import LAYERS, drawn
from pivrel.formats.pattern.svg import write_svg
from tests.bent import cone, grid
from tests.core.test_flatten import cylinder, laid
from tests.shapes import cuboid

WIDE, DEEP, HIGH = 500.0, 400.0, 300.0
OAK = Material("Oak", (300.0, 300.0), 0.0)


def corner(x, y, z):
    return (x * WIDE, y * DEEP, z * HIGH)


CROSS = tuple(
    tuple(corner(*c) for c in chain)
    for chain in (
        *(((x, y, 0), (x, y, 1)) for x in (0, 1) for y in (0, 1)), ((1, 0, 1), (0, 0, 1), (0, 1, 1), (1, 1, 1)),
    )
)  # fmt: skip


@pytest.fixture(scope="module")
def box():
    """A box opened to a cross: its surface, its pieces and its pattern."""
    surface = Surface(cuboid(WIDE, DEEP, HIGH))
    _, pieces = laid(surface, Flatten(cuts=CROSS))
    return surface, pieces, find_pattern(pieces, OAK)


def read(data):
    document = filemanagement.read(io.StringIO(data.decode()))
    return document, document.modelspace()


def test_a_dxf_is_sound_in_mm_and_has_its_layers(box):
    document, space = read(write_dxf(drawn(box[2], OAK.name), "all of it true"))
    assert len(document.audit().errors) == 0
    assert document.units == 4
    assert {layer.dxf.name for layer in document.layers} >= set(LAYERS)
    (outline,) = space.query('LWPOLYLINE[layer=="OUTLINE"]')
    assert outline.closed
    area = shapely.Polygon([p[:2] for p in outline.get_points()]).area
    assert area == pytest.approx(2 * (WIDE * DEEP + WIDE * HIGH + DEEP * HIGH), rel=1e-9)
    assert len(space.query('LINE[layer=="FOLD"]')) == 5
    assert len(space.query('LINE[layer=="MARK"]')) == 14, "two for each of seven seams"
    assert sorted(t.dxf.text for t in space.query('TEXT[layer=="NUMBER"]')) == ["1"]


def folded(outline, folds):
    """Places of a pattern folded up: the faces between its folds, and a function from the sheet to where it comes to lie.

    outline: (N, 2). folds: ((2, 2), degrees) each, run so that what is folded back lies on its right.
    """
    lines = [shapely.LinearRing(outline), *(shapely.LineString(ends) for ends, _ in folds)]
    faces = list(shapely.get_parts(shapely.polygonize([shapely.union_all(lines)])))
    motions = {0: np.eye(4)}
    waiting = [0]
    while waiting:
        here = waiting.pop()
        for ends, angle in folds:
            line = shapely.LineString(ends)
            beside = [
                k
                for k, face in enumerate(faces)
                if face.boundary.intersection(line).length > 0.5 * line.length
            ]
            if here not in beside:
                continue
            (there,) = [k for k in beside if k != here]
            if there not in motions:
                motions[there] = motions[here] @ about(ends, angle, faces[there])
                waiting.append(there)
    assert len(motions) == len(faces)

    def place(at):
        (face,) = [k for k, f in enumerate(faces) if f.distance(shapely.Point(at)) < 1e-6][:1]
        return (motions[face] @ [*at, 0.0, 1.0])[:3]

    return faces, motions, place


def about(ends, angle, face):
    """(4, 4) what lies beyond an edge turned back about it by degrees, seen from above."""
    (ax, ay), (bx, by) = ends
    axis = np.array([bx - ax, by - ay, 0.0]) / np.hypot(bx - ax, by - ay)
    inside = np.array(face.representative_point().coords[0]) - (ax, ay)
    # The axis turned so that the face lies on its right.
    if axis[0] * inside[1] - axis[1] * inside[0] > 0:
        axis = -axis
    turn = np.radians(angle)
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    rotation = np.eye(3) + np.sin(turn) * k + (1 - np.cos(turn)) * (k @ k)
    out = np.eye(4)
    out[:3, :3] = rotation
    out[:3, 3] = np.array([ax, ay, 0.0]) - rotation @ [ax, ay, 0.0]
    return out


def test_a_box_glued_from_its_own_dxf_is_the_box(box):
    _, space = read(write_dxf(drawn(box[2], OAK.name), "all of it true"))
    (outline,) = space.query('LWPOLYLINE[layer=="OUTLINE"]')
    ring = np.array([p[:2] for p in outline.get_points()])
    folds = [
        (np.array([line.dxf.start.vec2, line.dxf.end.vec2]), line.get_xdata(ANGLE)[0][1])
        for line in space.query('LINE[layer=="FOLD"]')
    ]
    faces, motions, _ = folded(ring, folds)
    assert len(faces) == 6
    corners = np.array([
        (motions[k] @ [*p, 0.0, 1.0])[:3] for k, face in enumerate(faces) for p in face.exterior.coords[:-1]
    ])  # fmt: skip
    # Eight places of three corners each, which lie like the box's.
    apart = np.linalg.norm(corners[:, None] - corners[None], axis=2)
    assert ((apart < 0.01).sum(axis=1) == 3).all()
    own = np.array([corner(*c) for c in np.ndindex(2, 2, 2)])
    distances = np.sort(np.linalg.norm(own[:, None] - own[None], axis=2).reshape(-1))
    eight = corners[np.unique((apart < 0.01).argmax(axis=1))]
    assert len(eight) == 8
    found = np.sort(np.linalg.norm(eight[:, None] - eight[None], axis=2).reshape(-1))
    np.testing.assert_allclose(found, distances, atol=0.01)


def test_matching_marks_meet_when_the_box_is_folded(box):
    _, _, (piece,) = box
    folds = [(fold.ends, fold.angle_deg) for fold in piece.folds]
    _, _, place = folded(piece.rings[0], folds)
    seams = {mark.seam for mark in piece.marks}
    assert seams == set(range(1, 8))
    for seam in seams:
        one, other = (place(mark.at) for mark in piece.marks if mark.seam == seam)
        assert np.linalg.norm(one - other) < 0.05


def test_marks_of_two_pieces_lie_at_one_place_of_the_model():
    surface = cylinder()
    _, pieces = laid(surface, Flatten(cuts="creases"))
    pattern = find_pattern(pieces, OAK)
    assert len(pattern) == 3 and all(len(piece.rings) == 1 for piece in pattern)
    marks = [mark for piece in pattern for mark in piece.marks]
    assert len(marks) == 6, "the side against itself, and against either lid"
    for seam in {mark.seam for mark in marks}:
        places = [on_model(pieces, mark) for mark in marks if mark.seam == seam]
        assert np.linalg.norm(places[0] - places[1]) < 0.05
    for piece in pattern:
        within = [shapely.Point(mark.at + 2 * mark.inward) for mark in piece.marks]
        assert shapely.Polygon(piece.rings[0]).contains(within).all()


def on_model(pieces, mark):
    """The place on the model of a mark, by the rim that it stands on."""
    a, b = pieces.rims[:, 0], pieces.rims[:, 1]
    share = np.einsum("ij,ij->i", mark.at - a, b - a) / np.einsum("ij,ij->i", b - a, b - a)
    away = np.linalg.norm(a + np.clip(share, 0, 1)[:, None] * (b - a) - mark.at, axis=1)
    away[pieces.rim_piece != mark.piece] = np.inf
    rim = int(np.argmin(away))
    surface = pieces.surface
    ends = surface.mesh.points[
        surface.mesh.corners[[pieces.rim_corner[rim], surface.topology.next_corner[pieces.rim_corner[rim]]]]
    ]
    return ends[0] + share[rim] * (ends[1] - ends[0])


def test_an_svg_says_the_same_in_true_mm(box):
    root = Et.fromstring(write_svg(drawn(box[2], OAK.name), "box"))
    space = {"s": "http://www.w3.org/2000/svg"}
    width, height = (float(v) for v in root.get("viewBox").split()[2:])
    assert root.get("width") == f"{width:g}mm" and root.get("height") == f"{height:g}mm"
    (path,) = root.findall(".//s:g[@id='OUTLINE']//s:path", space)
    ring = np.array([[float(v) for v in p.split()] for p in path.get("d").strip("MZ").split("L")])
    assert shapely.Polygon(ring).area == pytest.approx(
        2 * (WIDE * DEEP + WIDE * HIGH + DEEP * HIGH), rel=1e-6
    )
    assert [g.get("id") for g in root.findall("s:g", space)] == list(LAYERS)
    angles = [float(p.get("data-angle", "nan")) for p in root.findall(".//s:g[@id='FOLD']//s:path", space)]
    assert angles == [90.0] * 5
    words = [t.text for t in root.findall(".//s:g[@id='FOLD']//s:text", space)]
    assert words == ["90.0 deg"] * 5


def test_a_slit_is_an_inner_cut():
    surface = grid(lambda u, v: np.column_stack([800 * u, 600 * v, 0 * u]), 8, 8)
    middle = surface.mesh.points[[4 * 9 + k for k in range(2, 7)]]
    chain = [(float(x), float(y), float(z)) for x, y, z in middle]
    found, pieces = laid(surface, Flatten(cuts=(tuple(chain),)))
    (piece,) = find_pattern(pieces, OAK, found.cuts)
    assert len(piece.rings) == 1 and piece.folds == ()
    assert np.linalg.norm(np.diff(piece.slits, axis=1)[:, 0], axis=1).sum() == pytest.approx(300.0)


def test_a_fold_says_which_way_it_goes():
    def steps(u, v):
        # Up a riser and on along a tread: the first edge is folded forward, the second one back.
        along = np.interp(u, [0, 1 / 3, 2 / 3, 1], [0, 300, 300, 600])
        return np.column_stack([along, 400 * v, np.interp(u, [0, 1 / 3, 2 / 3, 1], [0, 0, 180, 180])])

    _, pieces = laid(grid(steps, 3, 1), Flatten(cuts=()))
    (piece,) = find_pattern(pieces, OAK)
    assert sorted(round(fold.angle_deg, 6) for fold in piece.folds) == [-90.0, 90.0]
    assert piece.area_mm2 == pytest.approx(400 * (300 + 180 + 300))


def test_lengths_and_areas_are_those_of_the_model_on_what_unrolls():
    surface = grid(cone(300.0, 1500.0, 640.0), 120, 3, closed=True)
    _, pieces = laid(surface, Flatten(cuts=()))
    (piece,) = find_pattern(pieces, OAK)
    assert piece.area_mm2 == pytest.approx(surface.face_areas.sum(), rel=1e-4)
    length = shapely.Polygon(piece.rings[0]).exterior.length
    a, b = (
        surface.mesh.points[surface.mesh.corners[c]]
        for c in (pieces.rim_corner, surface.topology.next_corner[pieces.rim_corner])
    )
    assert length == pytest.approx(np.linalg.norm(b - a, axis=1).sum(), rel=1e-4)
