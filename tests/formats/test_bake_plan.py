"""What a bake plans: images, density, pieces cut to fit, nothing bleeding from one piece into another."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import PIL.Image
import pytest
import trimesh

from pivrel.core.bake.charts import alone, pieces_apart, together, unfolded
from pivrel.core.bake.splitting import as_triangles
from pivrel.core.bake.texels import texels_of
from pivrel.core.coats.tones import Tone, TonedFaces
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.stretch import stretch
from pivrel.core.picks import All, Faces
from pivrel.core.projection import Box, Cylindrical, Planar, Triplanar
from pivrel.core.sheet import Material
from pivrel.errors import InputError
from pivrel.formats.baking.asked import Asked
from pivrel.formats.baking.bake import bake
from pivrel.formats.baking.plan import planned
from pivrel.formats.laid import Look
from pivrel.materials.images import encode
from tests.laying import schedule_of
from tests.shapes import column, cuboid, mesh_of

STONE = Material("stone", (400.0, 300.0))
PLAIN = {"m": Look({"base_color": encode(np.full((4, 4, 3), 1.0))})}


def plan_of(surface, finish, per_m=100.0, **more):
    asked = Asked(per_m, **{"finishes": ("0",), "size": 1024, **more})
    return planned(schedule_of(surface, [finish]), [(PLAIN["m"],) * 3], ({}, {}), asked)


def finish_of(projection, **more):
    return Finish("Stone", STONE, All(), projection, material_key="m", **more)


def densities(plan):
    """(T,) greatest and least px/m over the triangles of what is baked."""
    surface = plan.pages.charts.surface
    own = plan.pages.charts.triangles
    own = own[surface.triangle_areas[own] > 0]
    high, low, _ = stretch(surface.mesh.points, surface.mesh.corners, surface.triangles[own], plan.pages.px)
    return high * 1000, low * 1000


@pytest.mark.parametrize("unfold", ["own", "anew"])
@pytest.mark.parametrize(("surface", "projection"), [
    (Surface(cuboid(1500, 700, 900)), Box()),
    (Surface(column(48)), Cylindrical()),
    (Surface(cuboid(1500, 700, 900)), Planar()),
], ids=["box", "column", "planar on a box, which smears"])  # fmt: skip
def test_what_is_flat_or_bent_one_way_has_the_density_within_2_percent(surface, projection, unfold):
    plan = plan_of(surface, finish_of(projection), 100, unfold=unfold)
    high, low = densities(plan)
    share = ((high < 102) & (low > 98)) @ surface_areas(plan) / surface_areas(plan).sum()
    # The column unfolded by xatlas is true but for some of its rims; by its own pieces it is wholly.
    assert share > (0.99 if unfold == "own" or surface.mesh.face_count < 20 else 0.85)
    told = plan.pages.density()
    assert told.true_share == pytest.approx(share, abs=1e-9)
    areas = surface_areas(plan)
    beyond = (high > told.greatest * 100 + 1e-9) | (low < told.least * 100 - 1e-9)
    assert areas[beyond].sum() <= 0.0101 * areas.sum()
    assert low.min() - 1e-6 <= told.least * 100 <= told.greatest * 100 <= high.max() + 1e-6


def surface_areas(plan):
    areas = plan.pages.charts.surface.triangle_areas[plan.pages.charts.triangles]
    return areas[areas > 0]


def test_no_two_places_share_a_pixel_and_all_are_there():
    """The pixels of all pieces together are the area at the density, counted by middles."""
    ball = trimesh.creation.icosphere(subdivisions=4, radius=600)
    plan = plan_of(Surface(mesh_of(ball.vertices, ball.faces)), finish_of(Triplanar()), 200)
    texels = [texels_of(plan.pages, n) for n in range(len(plan.pages.sizes))]
    inside = sum(int((t.source.reshape(-1) == np.arange(t.source.size)).sum()) for t in texels)
    assert inside == pytest.approx(ball.area / 1e6 * 200**2, rel=0.02)
    assert (plan.pages.face_page >= 0).all()


def test_pieces_longer_than_an_image_are_cut_and_nothing_is_lost():
    surface = Surface(cuboid(9000, 400, 2500))
    plan = plan_of(surface, finish_of(Box()), 100, size=256, padding_px=4)
    pages, mesh = plan.pages, plan.model.surface
    assert len(pages.sizes) > 1 and all(width <= 256 and height <= 256 for width, height in pages.sizes)
    assert mesh.area_m2 == pytest.approx(surface.area_m2, rel=1e-9)
    high, low = densities(plan)
    assert high.max() < 101 and low.min() > 99
    # Every part lies within its image, with the padding about it.
    corners = np.repeat(pages.face_page, np.diff(mesh.mesh.face_start))
    for number, size in enumerate(pages.sizes):
        own = pages.px[corners == number]
        assert (own.min(axis=0) >= 4 - 1e-6).all() and (own.max(axis=0) <= np.array(size) - 4 + 1e-6).all()
    # The laying goes along: st is as it was at each place.
    assert np.isfinite(plan.model.st).all()
    assert set(plan.model.face_origin.tolist()) == set(range(6))


def test_what_is_bent_and_longer_than_an_image_is_cut_too():
    ball = trimesh.creation.icosphere(subdivisions=4, radius=600)
    surface = Surface(mesh_of(ball.vertices, ball.faces))
    plan = plan_of(surface, finish_of(Triplanar()), 400, size=256, padding_px=2)
    assert len(plan.pages.sizes) > 20
    assert plan.model.surface.area_m2 == pytest.approx(surface.area_m2, rel=1e-9)
    texels = [texels_of(plan.pages, n) for n in range(len(plan.pages.sizes))]
    inside = sum(int((t.source.reshape(-1) == np.arange(t.source.size)).sum()) for t in texels)
    assert inside == pytest.approx(ball.area / 1e6 * 400**2, rel=0.02)


def mip(image):
    """Half as large, each pixel the mean of four; what graphics cards make (OpenGL 4.6, 8.14.4, "filtered")."""
    h, w = image.shape[0] // 2 * 2, image.shape[1] // 2 * 2
    return image[:h, :w].reshape(h // 2, 2, w // 2, 2, -1).mean(axis=(1, 3))


@pytest.mark.parametrize("level", [0, 1, 2])
def test_nothing_bleeds_from_one_piece_into_another(level):
    """Six sides of six colors: at every place near a border the color is that of its own side, in smaller copies too."""
    surface = Surface(cuboid(500, 400, 300))
    rng = np.random.default_rng(2)
    colors = rng.choice([0.05, 0.4, 1.0], (6, 3))
    toned = tuple(TonedFaces(Faces((f,)), Tone((r, g, b))) for f, (r, g, b) in enumerate(colors.tolist()))
    finish = finish_of(Box(), toned=toned)
    plan = plan_of(surface, finish, 200, padding_px=8, unfold="anew")
    assert len(plan.pages.charts.shapes) == 6
    found = bake(plan, PLAIN)
    (images,) = found.images
    image = np.asarray(PIL.Image.open(BytesIO(images["base_color"].data)), float)
    for _ in range(level):
        image = mip(image)
    side = 2**level
    model = found.model
    triangles = model.surface.triangles
    for share in ([1, 0, 0], [0, 1, 0], [0.5, 0.5, 0], [0, 0.5, 0.5], [0.98, 0.01, 0.01], [0.4, 0.3, 0.3]):
        uv = np.einsum("k,tkj->tj", share, model.baked_uv[triangles])
        place = uv * np.array(plan.pages.sizes[0]) / side
        x, y = place[:, 0] - 0.5, image.shape[0] - place[:, 1] - 0.5
        left, top = np.floor(x).astype(int), np.floor(y).astype(int)
        for dy in (0, 1):
            for dx in (0, 1):
                row = np.clip(top + dy, 0, image.shape[0] - 1)
                column_ = np.clip(left + dx, 0, image.shape[1] - 1)
                face = model.face_origin[model.surface.triangle_face]
                want = np.round(coded(colors)[face] * 255)
                assert np.abs(image[row, column_] - want).max() <= 1


def coded(linear):
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def test_faces_of_many_corners_become_their_triangles():
    surface = Surface(cuboid(1, 2, 3))
    split = as_triangles(surface, np.arange(6) < 2)
    assert np.diff(split.mesh.face_start).tolist() == [3, 3, 3, 3, 4, 4, 4, 4]
    assert split.face.tolist() == [0, 0, 1, 1, 2, 3, 4, 5]
    np.testing.assert_array_equal(split.mesh.corners, surface.mesh.corners[split.corner])
    assert Surface(split.mesh).area_m2 == pytest.approx(surface.area_m2)


def test_charts_of_xatlas_are_as_large_as_what_they_cover_and_turned_the_right_way():
    ball = trimesh.creation.icosphere(subdivisions=3, radius=500)
    surface = Surface(mesh_of(ball.vertices, ball.faces))
    faces = np.arange(surface.mesh.face_count, dtype=np.int32)
    pieces, flat = pieces_apart(surface, faces, unfolded(surface, faces))
    charts = together(surface, [(pieces, flat)])
    assert (pieces.hand > 0).all() and flat.all()
    assert sum(shape.area for shape in charts.shapes) == pytest.approx(ball.area, rel=1e-3)


def test_triangles_alone_are_true_to_size():
    ball = trimesh.creation.icosphere(subdivisions=1, radius=500)
    surface = Surface(mesh_of(ball.vertices, ball.faces))
    charts = alone(surface, np.arange(surface.mesh.face_count, dtype=np.int32))
    high, low, det = stretch(surface.mesh.points, surface.mesh.corners, surface.triangles, charts.places)
    np.testing.assert_allclose([high, low, det], 1, rtol=1e-9)


def test_a_plan_says_what_cannot_be():
    surface, box = Surface(cuboid()), finish_of(Box())
    with pytest.raises(InputError, match="no finish needs a bake"):
        plan_of(surface, box, finishes=None)
    with pytest.raises(
        InputError, match=r"6\.0 m² at 1e\+06 px/m make .* images of 1,024 x 1,024 px and more; ask for"
    ):
        plan_of(surface, box, 1e6)
    with pytest.raises(InputError, match="0 px/m cannot be baked"):
        plan_of(surface, box, 0.0)
    with pytest.raises(InputError, match="images of 32 px are not made"):
        plan_of(surface, box, size=32)


def test_a_coarse_bake_of_a_fine_image_shows_its_mean_and_no_moire():
    """A chessboard of pixels far finer than the bake comes out grey, as light: 0.5, which sRGB codes as 188."""
    board = np.indices((64, 64)).sum(axis=0) % 2
    looks = {"m": Look({"base_color": encode(np.repeat(board[..., None], 3, axis=2).astype(float))})}
    schedule = schedule_of(Surface(cuboid()), [finish_of(Box())])
    plan = planned(schedule, [(looks["m"],) * 3], ({}, {}), Asked(40, 1024, finishes=("0",)))
    found = bake(plan, looks)
    image = np.asarray(PIL.Image.open(BytesIO(found.images[0]["base_color"].data)), float)
    assert np.abs(image - 188).max() <= 14
    assert image.mean() == pytest.approx(188, abs=1.5)
