"""Triplanar: weights against MaterialX's own node graph, blends and normals against closed forms."""

from pathlib import Path

import MaterialX
import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import lay, settle
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.sampling import Channel, bilinear, blended, blended_normals
from pivrel.core.measure.figures import measure
from pivrel.core.picks import All
from pivrel.core.projection import Box, Triplanar
from pivrel.core.projection.triplanar import blend_weights
from pivrel.core.sheet import Material, Placement
from tests.shapes import cuboid, mesh_of

STONE = Material("stone", (400.0, 300.0))
GRAPH = "NG_triplanarprojection_float"


def graph_value(graph, name, given, output="out"):
    """One node of a MaterialX node graph, evaluated: the operations that this graph uses."""
    node = graph.getNode(name)

    def arg(key):
        port = node.getInput(key)
        if port is None:
            return None
        if port.getNodeName():
            return graph_value(graph, port.getNodeName(), given, port.getOutputString() or "out")
        if port.getInterfaceName():
            return given[port.getInterfaceName()]
        return np.array([float(v) for v in port.getValueString().split(",")])

    match node.getCategory():
        case "image":
            return given[node.getInput("file").getInterfaceName()]
        case "normalize":
            return arg("in") / np.linalg.norm(arg("in"))
        case "absval":
            return np.abs(arg("in"))
        case "dotproduct":
            return arg("in1") @ arg("in2")
        case "divide":
            return arg("in1") / arg("in2")
        case "multiply":
            return arg("in1") * arg("in2")
        case "add":
            return arg("in1") + arg("in2")
        case "power":
            return arg("in1") ** arg("in2")
        case "clamp":
            high = arg("high")
            return np.clip(arg("in"), arg("low"), 1.0 if high is None else high)
        case "separate3":
            return arg("in")[["outx", "outy", "outz"].index(output)]
    raise AssertionError(f"the graph has a node of another kind: {node.getCategory()}")


@pytest.fixture(scope="module")
def graph():
    """MaterialX 1.39 libraries/stdlib/stdlib_ng.mtlx, the node graph of `triplanarprojection`."""
    document = MaterialX.createDocument()
    library = Path(MaterialX.__file__).parent / "libraries" / "stdlib" / "stdlib_ng.mtlx"
    MaterialX.readFromXmlFile(document, str(library))
    return document.getNodeGraph(GRAPH)


@pytest.mark.parametrize("blend", [0.0, 0.01, 0.03, 0.1, 0.3, 0.7, 1.0])
def test_weights_are_those_of_materialx(graph, blend):
    rng = np.random.default_rng(6)
    normals = np.concatenate([rng.standard_normal((40, 3)), np.eye(3), -np.eye(3), [[1, 1, 1], [2, -2, 0]]])
    ours = blend_weights(normals, blend)
    assert ours.sum(axis=1) == pytest.approx(np.ones(len(normals)))
    for normal, weights in zip(normals, ours, strict=True):
        for axis, file in enumerate(("filex", "filey", "filez")):
            given = {"filex": 0.0, "filey": 0.0, "filez": 0.0, "normal": normal, "blend": np.array([blend])}
            given[file] = 1.0
            theirs = graph_value(graph, graph.getOutput("out").getNodeName(), given)
            assert weights[axis] == pytest.approx(float(np.squeeze(theirs)), abs=1e-12)


def test_a_flat_side_shows_what_box_lays_there():
    surface = Surface(cuboid())
    placed = Placement(30.0, (40.0, 7.0), (1.5, -0.5))
    datum = Datum((100, 50, 20), (1, 0.2, 0), (0, 0.1, 1))
    image = np.random.default_rng(1).random((24, 32, 3))
    faces = np.arange(6, dtype=np.int32)
    finish = Finish("f", STONE, All(), Box(), datum, 30.0, None, (40.0, 7.0), (1.5, -0.5))
    st = lay(surface, finish, faces, settle(surface, finish))
    points = surface.mesh.points[surface.mesh.corners]
    normals = np.repeat(datum.axes[[2, 2, 1, 1, 0, 0]] * np.array([-1, 1, -1, 1, 1, -1])[:, None], 4, axis=0)
    channel = Channel((image,) * 3, np.stack([placed.matrix] * 3), ((400, 300),) * 3)
    got = blended(Triplanar(), datum, channel, points, normals)
    np.testing.assert_allclose(got, bilinear(image, st, (400, 300)), atol=1e-6)


def test_backs_mirrored_take_the_plus_sides_rule():
    st, _ = Triplanar(backs="mirrored").at_points(
        np.array([[3.0, 5.0, 7.0]]),
        np.array([[-1.0, -1.0, -1.0]]),
        Datum(),
        np.stack([Placement().matrix] * 3),
    )
    np.testing.assert_array_equal(st[0], [[5, 7], [-3, 7], [3, 5]])
    surface = Surface(cuboid())
    finish = Finish("f", STONE, All(), Triplanar(backs="mirrored"), Datum())
    faces = np.arange(6, dtype=np.int32)
    assert measure(surface, finish, faces, settle(surface, finish)).mirrored_m2 == pytest.approx(3.0)


def test_bilinear_is_exact_at_pixel_centres_and_repeats():
    image = np.arange(12.0).reshape(3, 4, 1)
    # The sheet begins at the bottom left: row 2 of the image is the lowest.
    assert bilinear(image, np.array([[50.0, 50.0]]), (400, 300)) == pytest.approx(8.0)
    assert bilinear(image, np.array([[350.0 - 800, 250.0 + 900]]), (400, 300)) == pytest.approx(3.0)
    assert bilinear(image, np.array([[100.0, 50.0]]), (400, 300)) == pytest.approx(8.5)


def test_normals_bend_the_way_the_map_slopes_on_every_side():
    """A sheet that slopes up towards +s bends the normal against the direction in which s runs."""
    slope = 0.5
    tilted = np.array([-slope, 0, 1]) / np.hypot(slope, 1)
    image = np.broadcast_to(tilted / 2 + 0.5, (4, 4, 3))
    sheets = np.stack([Placement(90.0).matrix] * 3)
    level = np.stack([Placement().matrix] * 3)
    runs = {(1, 0, 0): (0, 1, 0), (-1, 0, 0): (0, -1, 0), (0, 1, 0): (-1, 0, 0), (0, -1, 0): (1, 0, 0),
            (0, 0, 1): (1, 0, 0), (0, 0, -1): (1, 0, 0)}  # fmt: skip
    for normal, s_runs in runs.items():
        n = np.array([normal], float)
        got = blended_normals(
            Triplanar(), Datum(), Channel((image,) * 3, level, ((1, 1),) * 3), np.zeros((1, 3)), n
        )
        expected = n[0] - slope * np.array(s_runs)
        np.testing.assert_allclose(got[0], expected / np.linalg.norm(expected), atol=1e-9)
        # Turned by 90 degrees counter-clockwise, s runs where t ran: up on the upright sides.
        up = np.cross(normal, s_runs)
        got = blended_normals(
            Triplanar(), Datum(), Channel((image,) * 3, sheets, ((1, 1),) * 3), np.zeros((1, 3)), n
        )
        expected = n[0] - slope * up
        np.testing.assert_allclose(got[0], expected / np.linalg.norm(expected), atol=1e-9)


def test_a_map_without_slope_leaves_every_normal_alone():
    normals = np.random.default_rng(3).standard_normal((50, 3))
    flat = np.broadcast_to(np.array([0.5, 0.5, 1.0]), (2, 2, 3))
    channel = Channel((flat,) * 3, np.stack([Placement(20).matrix] * 3), ((5, 5),) * 3)
    got = blended_normals(Triplanar(), Datum((1, 2, 3), (1, 1, 0)), channel, normals * 100, normals)
    np.testing.assert_allclose(got, normals / np.linalg.norm(normals, axis=1, keepdims=True), atol=1e-12)


def test_smooth_bodies_have_no_seams_and_creases_keep_theirs():
    ball = trimesh.creation.icosphere(subdivisions=3, radius=700)
    smooth = Surface(mesh_of(ball.vertices, ball.faces))
    faces = np.arange(smooth.mesh.face_count, dtype=np.int32)

    def seams(surface, projection):
        finish = Finish("f", STONE, All(), projection)
        own = np.arange(surface.mesh.face_count, dtype=np.int32)
        return measure(surface, finish, own, settle(surface, finish)).seams_m

    assert seams(smooth, Triplanar()) == 0.0 < seams(smooth, Box())
    block = Surface(cuboid(1000, 700, 1100))
    assert seams(block, Triplanar()) == seams(block, Box()) > 0
    strongest = lay(smooth, Finish("f", STONE, All(), Triplanar(), Datum()), faces,
                    settle(smooth, Finish("f", STONE, All(), Triplanar(), Datum())))  # fmt: skip
    boxed = lay(smooth, Finish("f", STONE, All(), Box(), Datum()), faces,
                settle(smooth, Finish("f", STONE, All(), Box(), Datum())))  # fmt: skip
    np.testing.assert_array_equal(strongest, boxed)
