"""The view's triplanar shader against the core's own evaluation, pixel by pixel."""

from __future__ import annotations

import json

import numpy as np
import pytest
import trimesh

from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.sampling import Channel, blended
from pivrel.core.picks import All
from pivrel.core.projection import Triplanar
from pivrel.materials.images import decode, encode
from pivrel.recipe import read_recipe
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.conftest import facts_of
from tests.edits import edits_of
from tests.shapes import mesh_of

POINTS = 500
REPEAT = (900.0, 650.0)


def soft_image(seed: int) -> np.ndarray:
    """(192, 256, 3) colors that change slowly, so that every way of filtering reads the same."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:192, 0:256]
    out = np.empty((192, 256, 3))
    for channel in range(3):
        wave = sum(
            a * np.sin(2 * np.pi * (i * x / 256 + j * y / 192) + p)
            for a, i, j, p in zip([0.5, 0.3, 0.2], [1, 2, 0], [0, 1, 2], rng.uniform(0, 6, 3), strict=True)
        )
        out[..., channel] = 0.5 + 0.4 * wave
    return out


def rounded_body() -> trimesh.Trimesh:
    """A ball that is swollen on one side and flattened on another: every direction, no edge."""
    ball = trimesh.creation.icosphere(subdivisions=4, radius=1.0)
    v = ball.vertices
    swell = 1 + 0.18 * np.sin(2.2 * v[:, 0] + 0.4) + 0.12 * np.cos(2.7 * v[:, 1] - 1.0 + v[:, 2])
    return trimesh.Trimesh(v * swell[:, None] * (620, 500, 560), ball.faces, process=False)


@pytest.fixture
def body_project(server, browser):
    shape = rounded_body()
    mesh = mesh_of(shape.vertices, shape.faces)
    images = {key: encode(soft_image(seed)) for key, seed in (("soft", 1), ("soft2", 2))}
    database = Database(server.data)
    with database.transaction() as db:
        for key, image in images.items():
            body = LibraryBody(
                name=f"Soft waves {key}, made up", repeat_mm=REPEAT, grain_deg=0.0, metallic=0, use="test",
                images=blobs.put_images(db, {"base_color": image}),
            )  # fmt: skip
            projects.put_library(db, key, 90, body)
        facts = facts_of("body.obj", triangles=len(shape.faces))
        project = projects.create(db, "Rounded body", blobs.put_mesh(db, mesh), facts)
    yield project, Surface(mesh), images
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)
        db.execute("DELETE FROM library_material WHERE key IN ('soft', 'soft2')")


def rays(matrix: np.ndarray, pixels: np.ndarray, size: tuple[float, float]):
    """Origins and directions of the rays through pixel centres; matrix: (4, 4) to clip space."""
    back = np.linalg.inv(matrix)
    ndc = np.column_stack([(pixels[:, 0] + 0.5) / size[0] * 2 - 1, 1 - (pixels[:, 1] + 0.5) / size[1] * 2])
    ends = []
    for depth in (-1.0, 1.0):
        clip = np.column_stack([ndc, np.full(len(ndc), depth), np.ones(len(ndc))]) @ back.T
        ends.append(clip[:, :3] / clip[:, 3:])
    direction = ends[1] - ends[0]
    return ends[0], direction / np.linalg.norm(direction, axis=1, keepdims=True)


def first_hits(surface: Surface, origin: np.ndarray, direction: np.ndarray):
    """For each ray its first triangle and barycentric place (T. Moller and B. Trumbore, 1997)."""
    corners = surface.mesh.points[surface.mesh.corners[surface.triangles]]
    a, u, v = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    triangle, place = np.full(len(origin), -1), np.zeros((len(origin), 3))
    for k, (o, d) in enumerate(zip(origin, direction, strict=True)):
        p = np.cross(d, v)
        det = (u * p).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            s = o - a
            b = (s * p).sum(axis=1) / det
            q = np.cross(s, u)
            c = (q @ d) / det
            t = (v * q).sum(axis=1) / det
        hit = (np.abs(det) > 1e-12) & (b >= 0) & (c >= 0) & (b + c <= 1)
        if hit.any():
            near = np.flatnonzero(hit)[np.argmin(t[hit])]
            triangle[k], place[k] = near, (1 - b[near] - c[near], b[near], c[near])
    return triangle, place


def linear(srgb: np.ndarray) -> np.ndarray:
    """IEC 61966-2-1."""
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)


def stored(light: np.ndarray) -> np.ndarray:
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055) * 255


@pytest.mark.parametrize(
    "projection, placed",
    [
        ({"kind": "triplanar"}, {}),
        ({"kind": "triplanar", "blend": 0.8, "backs": "mirrored"}, {"turn_deg": 25, "scale": [1.4, -0.8]}),
        (
            {"kind": "triplanar", "blend": 0.15, "materials": {"x": None, "y": "soft2", "z": None}},
            {"offset_mm": [120, -60], "turn_deg": 90},
        ),
    ],
)
def test_pixels_of_the_view_are_the_cores_own_blend(browser, server, body_project, projection, placed):
    project, surface, images = body_project
    path = f"/api/projects/{project}"
    datum = {"origin_mm": [30, -20, 10], "x_axis": [1, 0.3, 0], "z_axis": [0.1, 0, 1]}
    lay = {"kind": "lay", "material": "soft", "pick": {"all": True}, "projection": projection, "datum": datum}
    state = server.ask("POST", f"{path}/edits", {"revision": 0, "edit": lay})
    if placed:
        for change in edits_of(["F1"], **placed):
            state = server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": change})

    browser.open(f"/projects/{project}")
    browser.shown(state["revision"])
    browser.press("o")
    browser.until(lambda: browser.button("Color").get_attribute("data-state") == "on", "the look")
    browser.settle()
    view = browser.css("[data-testid=view]")
    matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
    box = view.rect
    picture = browser.screenshot()[int(box["y"]) : int(box["y"] + box["height"]), : int(box["width"])]

    rng = np.random.default_rng(4)
    pixels = np.column_stack(
        [rng.integers(5, box["width"] - 5, 9000), rng.integers(95, box["height"] - 65, 9000)]
    )
    origin, direction = rays(matrix, pixels, (box["width"], box["height"]))
    triangle, place = first_hits(surface, origin[:3000], direction[:3000])
    met = np.flatnonzero(triangle >= 0)
    corners = surface.triangles[triangle[met]]
    points = np.einsum("nk,nkj->nj", place[met], surface.mesh.points[surface.mesh.corners[corners]])
    normals = np.einsum("nk,nkj->nj", place[met], surface.shading_normals[corners].astype(float))
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    # Away from the outline, where a pixel holds some of what is behind.
    inside = (normals * -direction[met]).sum(axis=1) > 0.3
    assert inside.sum() >= POINTS
    met, points, normals = met[inside][:POINTS], points[inside][:POINTS], normals[inside][:POINTS]

    recipe = {
        "recipe": 1,
        "materials": {k: {"name": k, "repeat_mm": REPEAT} for k in images},
        "finishes": [{"name": "f", "material": "soft", "pick": {"all": True}, "projection": projection,
                      "datum": datum, **placed}],
    }  # fmt: skip
    (finish,) = read_recipe(json.dumps(recipe)).to_core()
    assert isinstance(finish, Finish) and finish.pick == All() and finish.datum
    assert isinstance(finish.projection, Triplanar)
    used = [(projection.get("materials") or {}).get(axis) or "soft" for axis in "xyz"]
    x, y, z = (linear(decode(images[key])) for key in used)
    channel = Channel((x, y, z), finish.sheets, (REPEAT,) * 3)
    want = blended(finish.projection, finish.datum, channel, points, normals)
    got = picture[pixels[met, 1], pixels[met, 0]]
    difference = np.abs(got - stored(want))
    assert len(difference) == POINTS
    assert difference.mean(axis=0).max() <= 2
    assert difference.max() <= 12
    assert got.std(axis=0).min() > 15, "there is a pattern to compare"
