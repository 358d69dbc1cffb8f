"""Patterns on paper, and the flattened mesh, read again by other readers."""

import io

import numpy as np
import pytest
import shapely
import trimesh
from pypdf import PdfReader

from pivrel.core.geometry.surface import Surface
from pivrel.core.pattern.pattern import find_pattern
from pivrel.core.projection import Flatten
from pivrel.core.sheet import Material
from pivrel.errors import InputError
from pivrel.formats.pattern import PATTERNS, drawn
from pivrel.formats.pattern.flat_obj import write_flat_obj
from tests.core.test_flatten import laid
from tests.shapes import cuboid

WIDE, DEEP, HIGH = 500.0, 400.0, 300.0
OAK = Material("Oak", (300.0, 300.0), 0.0)
POINT_MM = 25.4 / 72
"""ISO 32000: a unit of user space is a seventy-second of an inch."""


@pytest.fixture(scope="module")
def pieces():
    return laid(Surface(cuboid(WIDE, DEEP, HIGH)), Flatten(cuts="creases"))[1]


def stroked(page):
    """The straight strokes of a page, (N, 2, 2) mm on the paper, read by walking through its content."""
    at, now, out = np.eye(3), None, []
    stack = []

    def seen(operator, args, *_):
        nonlocal at, now
        match operator:
            case b"q":
                stack.append(at)
            case b"Q":
                at = stack.pop()
            case b"cm":
                a, b, c, d, e, f = map(float, args)
                at = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ at
            case b"m" | b"l":
                here = (np.array([*map(float, args), 1.0]) @ at)[:2] * POINT_MM
                if operator == b"l":
                    out.append((now, here))
                now = here

    page.extract_text(visitor_operand_before=seen)
    return np.array(out)


@pytest.mark.parametrize(("kind", "paper"), [("a4", (210, 297)), ("a3", (297, 420))])
def test_a_pattern_lies_on_paper_in_true_mm(pieces, kind, paper):
    written = PATTERNS[kind].write(drawn(find_pattern(pieces, OAK), OAK.name), "all of it true")
    reader = PdfReader(io.BytesIO(written))
    assert "all of it true" in str(reader.metadata.subject)
    low, high = pieces.boxes[:, :2].min(axis=0), pieces.boxes[:, 2:].max(axis=0)
    least = np.prod(high - low) / np.prod(paper)
    assert len(reader.pages) > 0.5 * least
    found = []
    for number, page in enumerate(reader.pages):
        sides = sorted(float(side) * POINT_MM for side in (page.mediabox.width, page.mediabox.height))
        np.testing.assert_allclose(sides, paper, atol=0.01)
        lengths = np.linalg.norm(np.diff(strokes := stroked(page), axis=1)[:, 0], axis=1)
        assert np.isclose(lengths, 100.0, atol=1e-3).any(), "the bar to check by a ruler"
        text = page.extract_text()
        assert "check it by a ruler" in text and ("Overview" in text if number == 0 else "1:1" in text)
        if number:
            found += [strokes]
    # Every border of the box is on paper in its true length: drawn whole, and cut by the windows only as it is shown.
    lengths = np.linalg.norm(np.diff(np.concatenate(found), axis=1)[:, 0], axis=1)
    for side in (WIDE, DEEP, HIGH):
        assert np.isclose(lengths, side, atol=1e-3).any()


def test_what_takes_hundreds_of_sheets_is_refused():
    house = laid(Surface(cuboid(12000.0, 8000.0, 6000.0)), Flatten(cuts="creases"))[1]
    with pytest.raises(InputError, match="more than 300 sheets of A4"):
        PATTERNS["a4"].write(drawn(find_pattern(house, OAK), OAK.name), "true")


def test_the_flattened_mesh_is_read_again_in_mm(pieces):
    data = write_flat_obj(pieces, (300.0, 150.0), "all of it true")
    scene = trimesh.load_scene(io.BytesIO(data), file_type="obj", split_objects=True, group_material=False)
    assert len(scene.geometry) == pieces.count == 6
    area = sum(mesh.area for mesh in scene.geometry.values())
    assert area == pytest.approx(2 * (WIDE * DEEP + WIDE * HIGH + DEEP * HIGH), rel=1e-9)
    for number, polygon in enumerate(pieces.polygons):
        mesh = scene.geometry[f"piece_{number + 1}"]
        outline = shapely.MultiPoint(mesh.vertices[:, :2]).convex_hull
        assert outline.symmetric_difference(polygon).area < 1e-3
        np.testing.assert_allclose(mesh.visual.uv * [300, 150], mesh.vertices[:, :2], atol=1e-4)
