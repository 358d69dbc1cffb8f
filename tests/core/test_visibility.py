"""What is in sight and what lies within an outline, on shapes where the answer is plain, and against VTK."""

from dataclasses import replace

import numba
import numpy as np
import pytest
import shapely
import vtk
from vtk.util.numpy_support import vtk_to_numpy

from pivrel.core.geometry.mesh import merged
from pivrel.core.geometry.surface import Surface
from pivrel.core.view.eye import Eye
from pivrel.core.view.outline import within
from pivrel.core.view.sight import look
from pivrel.demo import lido
from tests.shapes import cuboid, mesh_of


def straight(scale, size=(400, 300)):
    """From the front (-Y), parallel: x right, z up, `scale` pixels a mm about the origin."""
    width, height = size
    return Eye(
        np.array(
            [[2 * scale / width, 0, 0, 0], [0, 0, 2 * scale / height, 0], [0, 1e-4, 0, 0], [0, 0, 0, 1]]
        ),
        size,
    )


def standing(position, target, size=(400, 300), field=50.0):
    """In perspective, z up."""
    position, target = np.array(position, float), np.array(target, float)
    back = (position - target) / np.linalg.norm(position - target)
    right = np.cross([0, 0, 1], back)
    right /= np.linalg.norm(right)
    view = np.eye(4)
    view[:3, :3] = right, np.cross(back, right), back
    view[:3, 3] = -view[:3, :3] @ position
    f, near, far = 1 / np.tan(np.radians(field) / 2), 1.0, 1e6
    a = (far + near) / (near - far)
    project = np.array(
        [
            [f * size[1] / size[0], 0, 0, 0],
            [0, f, 0, 0],
            [0, 0, a, 2 * far * near / (near - far)],
            [0, 0, -1, 0],
        ]
    )
    return Eye(project @ view, size)


def at(mesh, x, y, z):
    return replace(mesh, points=mesh.points + (x, y, z))


def wall_with_boxes():
    """A wall of 2000 x 100 x 1500 and two boxes of 200 behind it: part 0, then 1 and 2; the second looks past its end."""
    return Surface(
        merged(
            [
                at(cuboid(2000, 100, 1500), -1000, 0, -750),
                at(cuboid(200, 200, 200), -100, 500, 0),
                at(cuboid(200, 200, 200), 900, 500, 0),
            ]
        )
    )


def rectangle(x0, y0, x1, y1):
    return np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], float)


def test_only_what_is_before_the_wall_is_seen():
    surface, eye = wall_with_boxes(), straight(0.15)
    every = np.ones(surface.mesh.face_count, bool)
    seen = look(surface, eye, every).seen
    assert seen[:6].sum() == 1, "the front of the wall alone"
    assert not seen[6:12].any()
    assert seen[12:].sum() == 1, "the box that looks past the end shows its front"
    without = every.copy()
    without[:6] = False
    assert look(surface, eye, without).seen[6:12].any(), "hidden faces hide nothing"


def test_seen_or_through_touched_or_whole():
    surface, eye = wall_with_boxes(), straight(0.15)
    every = np.ones(surface.mesh.face_count, bool)
    about_box = rectangle(180, 115, 220, 155)
    seen = within(surface, eye, about_box, every, through=False, whole=False)
    assert seen[:6].sum() == 1 and not seen[6:].any()
    through = within(surface, eye, about_box, every, through=True, whole=False)
    assert through[:6].sum() == 2 and through[6:12].all() and not through[12:].any()
    whole = within(surface, eye, about_box, every, through=True, whole=True)
    assert not whole[:6].any() and whole[6:12].sum() == 6
    assert not within(surface, eye, about_box, every, through=False, whole=True).any()
    far = within(surface, eye, rectangle(0, 0, 20, 20), every, through=True, whole=False)
    assert not far.any()


def test_a_cut_opens_the_model():
    surface = wall_with_boxes()
    eye = straight(0.15)
    # What lies nearer than y = 300 is not drawn.
    cut = Eye(eye.matrix, eye.size, np.array([0.0, -1, 0, -300]))
    every = np.ones(surface.mesh.face_count, bool)
    seen = look(surface, cut, every).seen
    assert not seen[:6].any() and seen[6:12].sum() == 1
    assert not within(surface, cut, rectangle(0, 0, 400, 300), every, True, False)[:6].any()


def test_faces_smaller_than_a_pixel_are_seen_by_their_middles():
    tiny = merged([at(cuboid(2, 2, 2), x * 37.3, 0, 0) for x in range(-20, 20)])
    surface = Surface(tiny)
    every = np.ones(surface.mesh.face_count, bool)
    seen = look(surface, straight(0.1), every).seen.reshape(40, 6)
    assert (seen.sum(axis=1) >= 1).all(), "each box shows"
    behind = Surface(merged([tiny, at(cuboid(4000, 1, 400), -2000, -100, -200)]))
    seen = look(behind, straight(0.1), np.ones(behind.mesh.face_count, bool)).seen
    assert not seen[:-6].any()


def test_inside_a_room_in_perspective():
    surface = Surface(cuboid(4000, 4000, 3000))
    eye = standing((2000, 1000, 1500), (2000, 4000, 1500), field=90)
    seen = look(surface, eye, np.ones(6, bool))
    normals = surface.normals / np.linalg.norm(surface.normals, axis=1, keepdims=True)
    assert seen.seen.sum() == 5 and not seen.seen[np.argmin(normals[:, 1])], "all but the wall behind the eye"
    assert (seen.ids >= 0).all(), "no hole where faces pass the eye"


@pytest.mark.parametrize("position", [(-9000, -14000, 7000), (6000, -9000, 1500)])
def test_faces_of_the_lido_in_sight_are_those_that_vtk_draws(position):
    """VTK's own renderer colors each face by its id; every face of more than a few of its pixels must agree."""
    surface = Surface(lido.build())
    size = (640, 400)
    eye = standing(position, (6000, 3000, 1500), size)
    sight = look(surface, eye, np.ones(surface.mesh.face_count, bool))
    theirs = drawn_by_vtk(surface, position, (6000, 3000, 1500), size, 50.0)
    same = (theirs == sight.ids).mean()
    assert same > 0.98, f"{same:.4f} of the pixels show the same face"
    ids, pixels = np.unique(theirs[theirs >= 0], return_counts=True)
    # Faces that lie on each other are drawn by whoever comes first.
    assert sight.seen[ids[pixels >= 4]].mean() > 0.995


def drawn_by_vtk(surface, position, target, size, field):
    mesh = surface.mesh
    points = vtk.vtkPoints()
    points.SetDataTypeToDouble()
    for p in mesh.points:
        points.InsertNextPoint(p)
    cells = vtk.vtkCellArray()
    for triangle in mesh.corners[surface.triangles]:
        cells.InsertNextCell(3, triangle.tolist())
    data = vtk.vtkPolyData()
    data.SetPoints(points)
    data.SetPolys(cells)
    colors = vtk.vtkUnsignedCharArray()
    colors.SetNumberOfComponents(3)
    for face in surface.triangle_face + 1:
        colors.InsertNextTuple3(face & 255, (face >> 8) & 255, (face >> 16) & 255)
    data.GetCellData().SetScalars(colors)
    mapper = vtk.vtkPolyDataMapper()
    mapper.SetInputData(data)
    actor = vtk.vtkActor()
    actor.SetMapper(mapper)
    actor.GetProperty().LightingOff()
    renderer = vtk.vtkRenderer()
    renderer.AddActor(actor)
    renderer.SetBackground(0, 0, 0)
    window = vtk.vtkRenderWindow()
    window.SetOffScreenRendering(1)
    window.SetMultiSamples(0)
    window.SetSize(*size)
    window.AddRenderer(renderer)
    camera = renderer.GetActiveCamera()
    camera.SetPosition(*position)
    camera.SetFocalPoint(*target)
    camera.SetViewUp(0, 0, 1)
    camera.SetViewAngle(field)
    renderer.ResetCameraClippingRange()
    window.Render()
    grab = vtk.vtkWindowToImageFilter()
    grab.SetInput(window)
    grab.ReadFrontBufferOff()
    grab.Update()
    image = (
        vtk_to_numpy(grab.GetOutput().GetPointData().GetScalars())
        .reshape(size[1], size[0], -1)[::-1]
        .astype(int)
    )
    return image[..., 0] + (image[..., 1] << 8) + (image[..., 2] << 16) - 1


def test_every_number_of_threads_sees_the_same():
    surface, eye = Surface(lido.build(1)), standing((-9e3, -14e3, 6e3), (6e3, 6e3, 1e3), (320, 240))
    drawn = np.ones(surface.mesh.face_count, bool)
    every = look(surface, eye, drawn)
    threads = numba.get_num_threads()
    numba.set_num_threads(1)
    try:
        alone = look(surface, eye, drawn)
    finally:
        numba.set_num_threads(threads)
    np.testing.assert_array_equal(every.ids, alone.ids)
    np.testing.assert_array_equal(every.seen, alone.seen)


@pytest.mark.parametrize("seed", range(4))
def test_an_intricate_outline_holds_what_shapely_says(seed):
    """Triangles of any size scattered over the screen, and a star of 200 corners drawn over them."""
    rng = np.random.default_rng(seed)
    middle = rng.uniform((-180, -130), (180, 130), (400, 2))
    flat = middle[:, None] + rng.uniform(-1, 1, (400, 3, 2)) * rng.choice([2, 10, 80], 400)[:, None, None]
    points = np.stack([flat[..., 0], np.zeros((400, 3)), flat[..., 1]], axis=2).reshape(-1, 3)
    surface = Surface(mesh_of(points, np.arange(1200).reshape(-1, 3)))
    turn = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    reach = 60 + 50 * np.sin(7 * turn + seed)
    outline = np.stack([200 + reach * np.cos(turn), 150 + reach * np.sin(turn)], axis=1)
    star = shapely.Polygon(outline)
    drawn = np.ones(400, bool)
    on_screen = [shapely.Polygon(t * (1, -1) + (200, 150)) for t in flat]
    touched = within(surface, straight(1.0), outline, drawn, through=True, whole=False)
    assert touched.tolist() == [star.intersects(t) for t in on_screen]
    whole = within(surface, straight(1.0), outline, drawn, through=True, whole=True)
    assert whole.tolist() == [star.contains(t) for t in on_screen]
