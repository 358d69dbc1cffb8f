"""Coats: how channels join, what a finish shows at a point, random cells."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import MaterialX
import numpy as np
import pytest
import trimesh

from pivrel.core.cache import KeepAll
from pivrel.core.coats.cells import Cells
from pivrel.core.coats.coat import Coat
from pivrel.core.coats.joining import JOINS, Joins
from pivrel.core.coats.masks.fades import Fade
from pivrel.core.coats.masks.patterns import ImageMask
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.coats.tones import Spread, Tone, TonedFaces
from pivrel.core.evaluation.textures import Textures
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.sampling import Channel, bilinear, blended, blended_normals
from pivrel.core.picks import All, Facing
from pivrel.core.projection import Box, Planar, Spherical, Triplanar
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Joints, Material
from tests.shapes import cuboid, mesh_of

M = Material("m", (300.0, 200.0))
RNG = np.random.default_rng(1)
IMAGE, OTHER = RNG.random((16, 24, 3)), RNG.random((8, 8, 3))
BUMPS = RNG.random((16, 24, 3)) * [0.3, 0.3, 0.2] + [0.35, 0.35, 0.8]


def coated(finish, surface=None):
    surface = surface or Surface(cuboid(1000, 700, 1100))
    return Schedule(surface, "s", {"F1": finish}, KeepAll()).coated("F1")


def random_places(of, count=400, seed=3):
    surface = of.surface
    rng = np.random.default_rng(seed)
    triangle = rng.integers(0, len(surface.triangles), count)
    share = rng.dirichlet([1, 1, 1], count)
    corners = surface.triangles[triangle]
    points = np.einsum("nk,nkj->nj", share, surface.mesh.points[surface.mesh.corners[corners]])
    normals = np.einsum("nk,nkj->nj", share, surface.shading_normals[corners].astype(float))
    return of.places(points, normals, surface.triangle_face[triangle])


@pytest.mark.parametrize("join", ["mix", "multiply"])
def test_joins_are_those_of_materialx(join):
    """The nodes as MaterialX 1.39 writes them for its own renderers; GLSL's mix(a, b, t) is a*(1-t) + b*t."""
    library = Path(MaterialX.__file__).parent / "libraries/stdlib/genglsl/stdlib_genglsl_impl.mtlx"
    written = {e.get("name"): e.get("sourcecode") for e in ElementTree.parse(library).getroot()}
    under, over, w = RNG.random((50, 3)), RNG.random((50, 3)), RNG.random((50, 1))

    def node(name, **inputs):
        code = re.sub(r"\{\{(\w+)\}\}", r"given['\1']", str(written[name]))
        return eval(code, {"mix": lambda a, b, t: a * (1 - t) + b * t, "given": inputs})

    if join == "mix":
        want = node("IM_mix_color3_genglsl", bg=under, fg=over, mix=w)
    else:
        faded = node("IM_mix_color3_genglsl", bg=np.ones(3), fg=over, mix=w)
        want = node("IM_multiply_color3_genglsl", in1=under, in2=faded)
    np.testing.assert_allclose(JOINS[join](under, over, w), want, rtol=1e-12)


def test_a_finish_without_coats_shows_its_sheet_as_it_is_laid():
    of = coated(
        Finish("f", M, All(), Box(), turn_deg=30, offset_mm=(7, 9), scale=(1.5, -1), material_key="m")
    )
    at = random_places(of)
    corners = of.surface.triangles[at.triangles]
    st = np.einsum("nk,nkj->nj", at.shares, of.base.st[corners])
    shown = of.evaluate(at, {"m": Textures(base_color=IMAGE)})
    np.testing.assert_allclose(shown.base_color, bilinear(IMAGE, st, M.repeat_mm))
    np.testing.assert_allclose(shown.normal, at.normals, atol=1e-12)
    assert (shown.roughness == 0.8).all() and (shown.occlusion == 1).all() and not shown.height.any()


def test_triplanar_is_blended_as_ever():
    ball = trimesh.creation.icosphere(subdivisions=3, radius=700)
    surface = Surface(mesh_of(ball.vertices, ball.faces))
    kind, datum = Triplanar(0.4), Datum((10, 20, 30), (1, 0.2, 0))
    finish = Finish("f", M, All(), kind, datum, turn_deg=25, material_key="m")
    of = coated(finish, surface)
    at = random_places(of)
    shown = of.evaluate(at, {"m": Textures(base_color=IMAGE, normal=BUMPS)})
    channel = Channel((IMAGE,) * 3, finish.sheets, (M.repeat_mm,) * 3)
    np.testing.assert_allclose(shown.base_color, blended(kind, datum, channel, at.points, at.normals))
    bumps = Channel((BUMPS,) * 3, finish.sheets, (M.repeat_mm,) * 3)
    np.testing.assert_allclose(
        shown.normal, blended_normals(kind, datum, bumps, at.points, at.normals), atol=1e-12
    )


def test_the_normal_leans_against_the_slope_of_the_sheet_however_it_lies():
    """A sheet that rises by 1 in 2 along +s, turned by 90 degrees: s runs up the wall."""
    n = np.array([-0.5, 0, 1]) / np.linalg.norm([0.5, 0, 1])
    slope = Textures(normal=np.broadcast_to(n / 2 + 0.5, (2, 2, 3)))
    finish = Finish(
        "f", M, All(), Planar(), Datum((0, 0, 0), (1, 0, 0), (0, -1, 0)), turn_deg=90, material_key="m"
    )
    of = coated(finish)
    front = (of.surface.normals @ [0, -1, 0]) > 0
    at = random_places(of)
    shown = of.evaluate(at, {"m": slope})
    own = front[of.surface.triangle_face[at.triangles]]
    np.testing.assert_allclose(
        shown.normal[own], np.tile([0, -1, -0.5] / np.sqrt(1.25), (own.sum(), 1)), atol=1e-9
    )


def test_a_coat_joins_channel_by_channel_by_strength_mask_and_alpha():
    where = Fade((0, 0, 0), (0, 0, 1100))
    sheet = SheetOver("k", M, Planar(), Datum(), tile=True)
    textures = {
        "m": Textures(base_color=np.full((2, 2, 3), 0.4), roughness=np.full((2, 2, 1), 0.5)),
        "k": Textures(base_color=np.full((2, 2, 3), 0.1), alpha=np.full((2, 2, 1), 0.5),
                      roughness=np.full((2, 2, 1), 0.9), height=np.full((2, 2, 1), 0.25), metal=1.0),
    }  # fmt: skip
    for joins, color, high in ((Joins(), 0.1, 2.5), (Joins(base_color="multiply", height="add"), 0.04, 2.5)):
        coat = Coat("c", sheet, where, 0.8, joins, tint=(1.0, 0.5, 1.0))
        of = coated(Finish("f", M, All(), Box(), material_key="m", coats=(coat,)))
        at = random_places(of)
        w = 0.8 * np.clip(at.points[:, 2] / 1100, 0, 1) * 0.5
        shown = of.evaluate(at, textures)
        np.testing.assert_allclose(shown.base_color[:, 0], 0.4 * (1 - w) + color * w)
        tinted = 0.4 * (1 - w) + color / 2 * w
        np.testing.assert_allclose(shown.base_color[:, 1], tinted)
        np.testing.assert_allclose(shown.roughness, 0.5 * (1 - w) + 0.9 * w)
        np.testing.assert_allclose(shown.metallic, w)
        np.testing.assert_allclose(shown.height, high * w)


def test_a_coat_changes_only_what_it_has():
    base = Textures(base_color=IMAGE, normal=BUMPS, roughness=IMAGE[..., :1], occlusion=IMAGE[..., 1:2])
    plain = Finish("f", M, All(), Box(), material_key="m")
    at = random_places(coated(plain))
    bare = coated(plain).evaluate(at, {"m": base})
    stated = Coat("c", roughness=0.25)
    got = coated(Finish("f", M, All(), Box(), material_key="m", coats=(stated,))).evaluate(at, {"m": base})
    np.testing.assert_array_equal(got.base_color, bare.base_color)
    np.testing.assert_array_equal(got.normal, bare.normal)
    np.testing.assert_allclose(got.roughness, 0.25)
    for coat in (
        Coat("off", roughness=0.1, tint=(0, 0, 0), on=False),
        Coat("weak", tint=(0, 0, 0), strength=0),
    ):
        same = coated(Finish("f", M, All(), Box(), material_key="m", coats=(coat,))).evaluate(at, {"m": base})
        np.testing.assert_array_equal(same.base_color, bare.base_color)
    no_image = Coat("c", SheetOver("k", M))
    got = coated(Finish("f", M, All(), Box(), material_key="m", coats=(no_image,))).evaluate(
        at, {"m": base, "k": Textures()}
    )
    np.testing.assert_array_equal(got.base_color, bare.base_color)
    np.testing.assert_array_equal(got.normal, bare.normal)


def test_a_coat_without_a_laying_of_its_own_lies_on_the_finish_as_placed_on_top():
    finish = Finish("f", M, All(), Box(), turn_deg=20, offset_mm=(5, 5), scale=(1.2, 1.2), material_key="m")
    coat = Coat("c", SheetOver("k", M, turn_deg=70, offset_mm=(3, -4)))
    of = coated(Finish(**{**vars(finish), "coats": (coat,)}))
    at = random_places(of)
    shown = of.evaluate(at, {"m": Textures(base_color=OTHER), "k": Textures(base_color=IMAGE)})
    st = np.einsum("nk,nkj->nj", at.shares, of.base.st[of.surface.triangles[at.triangles]])
    matrix = coat.sheet.placement.matrix
    np.testing.assert_allclose(
        shown.base_color, bilinear(IMAGE, st @ matrix[:, :2].T + matrix[:, 2], M.repeat_mm)
    )


def test_a_single_sheet_over_a_finish_ends_where_it_ends():
    sheet = SheetOver("k", M, Planar(), Datum((100, -350, 200), (1, 0, 0), (0, -1, 0)), tile=False)
    of = coated(Finish("f", M, All(), Box(), material_key="m", coats=(Coat("c", sheet),)))
    at = random_places(of, 3000)
    shown = of.evaluate(
        at, {"m": Textures(base_color=np.zeros((2, 2, 3))), "k": Textures(base_color=np.ones((2, 2, 3)))}
    )
    inside = (
        (at.points[:, 0] >= 100)
        & (at.points[:, 0] <= 400)
        & (at.points[:, 2] >= 200)
        & (at.points[:, 2] <= 400)
    )
    np.testing.assert_allclose(shown.base_color[:, 0], inside)
    assert 0 < inside.sum() < len(inside)


def test_an_image_says_where_a_coat_lies():
    mask = ImageMask(SheetOver("k", M), "height", 0.2, 0.6)
    of = coated(
        Finish("f", M, All(), Box(), material_key="m", coats=(Coat("c", where=mask, tint=(1, 1, 1)),))
    )
    at = random_places(of)
    height = IMAGE[..., :1]
    shown = of.evaluate(at, {"m": Textures(base_color=np.zeros((2, 2, 3))), "k": Textures(height=height)})
    st = np.einsum("nk,nkj->nj", at.shares, of.base.st[of.surface.triangles[at.triangles]])
    want = np.clip((bilinear(height, st, M.repeat_mm)[:, 0] - 0.2) / 0.4, 0, 1)
    np.testing.assert_allclose(shown.base_color[:, 0], want)


@pytest.mark.parametrize("turn", ["quarters", 50.0])
def test_cells_are_true_to_scale_and_steady(turn):
    cells = Cells(120, 30, turn, True, 4)
    raw = np.random.default_rng(6).uniform(-5000, 5000, (4000, 2))
    places, turns, weights, _ = cells.at(raw, M.repeat_mm)
    np.testing.assert_allclose(weights.sum(axis=1), 1)
    again = Cells(120, 30, turn, True, 4).at(raw, M.repeat_mm)
    np.testing.assert_array_equal(places, again[0])
    assert np.abs(Cells(120, 30, turn, True, 5).at(raw, M.repeat_mm)[0] - places).max() > 10
    # A small step of the place is as long on every sheet shown, and turned by what is told.
    step = np.array([1e-3, 0])
    moved = cells.at(raw + step, M.repeat_mm)[0] - places
    same = weights > 1e-6
    np.testing.assert_allclose(np.linalg.norm(moved, axis=2)[same], 1e-3, rtol=1e-5)
    want = 1e-3 * np.stack([np.cos(turns[same]), -np.sin(turns[same])], axis=1)
    np.testing.assert_allclose(moved[same], want, atol=1e-7)
    if turn == "quarters":
        assert {0, 1, 2, 3} == set(np.round(turns / (np.pi / 2)).astype(int).ravel() % 4)
    else:
        assert np.abs(turns).max() <= np.radians(50)


@pytest.mark.parametrize("scale", [(1.0, 1.0), (-1.0, 1.0), (1.0, -1.0)])
def test_what_a_turned_cell_calls_along_and_up_is_where_its_sheet_grows(scale):
    """Closed form: over a small step on the surface each cell's sheet grows by the step's share along and up.

    Normal maps are turned by the two, so light would fall wrong on a cell that has them otherwise.
    """
    cells = Cells(260, 60, 50.0, True, 3)
    of = coated(Finish("f", M, All(), Box(), material_key="m", scale=scale, cells=cells))
    rng = np.random.default_rng(8)
    at = random_places(of)
    flat = at.normals
    step = np.cross(flat, rng.normal(size=flat.shape))
    step *= 1e-3 / np.linalg.norm(step, axis=1)[:, None]
    after = of.places(at.points + step, at.normals, of.surface.triangle_face[at.triangles])
    same = after.triangles == at.triangles
    assert same.sum() > 300
    turned = 0
    for one, other in zip(of.base.showings(at), of.base.showings(after), strict=True):
        shown = same & (one.weight > 1e-6) & (other.weight > 1e-6)
        grown = np.stack([(step * one.along).sum(axis=1), (step * one.up).sum(axis=1)], axis=1)
        np.testing.assert_allclose((other.st - one.st)[shown], grown[shown], atol=2e-6)
        turned += shown.sum()
    assert turned > 300


def test_cells_show_no_border():
    """Steps of the color over 1 mm where cells meet beside those inside of them, along lines across a sheet."""
    x = np.arange(0, 4000.0)
    raw = np.concatenate([np.column_stack([x, np.full_like(x, y)]) for y in np.arange(0, 2000, 37.0)])
    wave = 0.5 + 0.4 * np.sin(np.linspace(0, 2 * np.pi, 64, endpoint=False))
    soft = wave[None, :, None] * np.ones((64, 1, 3))
    cells = Cells(240, 60, "quarters", True, 2)
    places, _, weights, _ = cells.at(raw, M.repeat_mm)
    shown = [weights[:, k, None] * bilinear(soft, places[:, k], M.repeat_mm) for k in range(9)]
    color = np.sum(shown, axis=0)[:, 0]
    step = np.abs(np.diff(color))
    same_line = np.diff(raw[:, 1]) == 0
    largest = weights[:-1].max(axis=1)
    crossing, inside = (largest < 0.6) & same_line, (largest > 0.999) & same_line
    assert crossing.sum() > 1000 and inside.sum() > 1000
    assert step[crossing].max() <= 1.1 * step[inside].max()


def test_a_laying_that_leaves_faces_bare_shows_nothing_there():
    """A coat by a projection that cannot lay a closed body: the finish beneath stays as it is."""
    from pivrel.core.projection import Flow

    of = coated(Finish("f", M, All(), Spherical(), material_key="m", coats=(Coat("c", SheetOver("k", M, Flow())),)),
                Surface(_ball()))  # fmt: skip
    at = random_places(of)
    shown = of.evaluate(
        at, {"m": Textures(base_color=np.zeros((2, 2, 3))), "k": Textures(base_color=np.ones((2, 2, 3)))}
    )
    assert not shown.base_color.any()


def _ball():
    ball = trimesh.creation.icosphere(subdivisions=2, radius=300)
    return mesh_of(ball.vertices, ball.faces)


def toned(**more):
    of = coated(
        Finish(
            "f",
            Material("m", (300.0, 200.0), joints=Joints((100.0, 50.0), bond=0.5)),
            All(),
            Box(),
            OFF,
            material_key="m",
            **more,
        )
    )
    return of, random_places(of, 3000)


GREY = {"m": Textures(base_color=np.full((2, 2, 3), 0.5), roughness=np.full((2, 2, 1), 0.6), normal=BUMPS)}
OFF = Datum((13, 57, 91))


def test_a_tone_multiplies_color_roughness_and_bumps():
    tone = Tone((1.0, 0.5, 0.2), 0.8, 2.0, 0.0)
    of, at = toned(tone=tone)
    shown = of.evaluate(at, GREY)
    np.testing.assert_allclose(shown.base_color, np.tile([0.4, 0.2, 0.08], (len(at), 1)))
    np.testing.assert_allclose(shown.roughness, 1.0)
    np.testing.assert_allclose(shown.normal, at.normals, atol=1e-12)
    some = (TonedFaces(Facing((0, 0, 1), 5), Tone(lightness=0.5)), TonedFaces(All(), Tone(lightness=0.5)))
    of, at = toned(toned=some)
    top = at.normals[:, 2] > 0.9
    shown = of.evaluate(at, GREY).base_color[:, 0]
    np.testing.assert_allclose(shown[top], 0.125)
    np.testing.assert_allclose(shown[~top], 0.25)


def test_units_differ_each_by_one_shade():
    of, at = toned(spread=Spread("unit", 0.3, 5))
    shown = of.evaluate(at, GREY).base_color[:, 0] / 0.5
    st = np.einsum("nk,nkj->nj", at.shares, of.base.st[of.surface.triangles[at.triangles]])
    course = np.floor(st[:, 1] / 50)
    unit = np.floor((st[:, 0] - course * 50) / 100)
    _, number = np.unique(np.stack([course, unit], axis=1), axis=0, return_inverse=True)
    shades = [shown[number.reshape(-1) == k] for k in range(number.max() + 1)]
    assert max(np.ptp(shade) for shade in shades) < 1e-12
    means = np.array([shade.mean() for shade in shades])
    assert 0.7 <= means.min() < 0.78 and 1.22 < means.max() <= 1.3 and len(means) > 100


def test_parts_differ_by_their_names_alone():
    spread = Spread("part", 0.1, 2)
    assert spread.of("Wall\x001") == spread.of("Wall\x001") != spread.of("Wall\x002")
    assert Spread("part", 0.1, 3).of("Wall\x001") != spread.of("Wall\x001")
    many = np.array([spread.of(f"Board {k}") for k in range(500)])
    assert 0.9 <= many.min() < 0.905 and 1.095 < many.max() <= 1.1
    of, at = toned(spread=spread)
    shown = of.evaluate(at, GREY).base_color
    assert np.ptp(shown) < 1e-12 and shown[0, 0] != 0.5, "one part has one shade"
