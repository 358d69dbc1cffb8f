"""Pixels of the view beside what the core says of the points that they show."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import trimesh

from pivrel.core.geometry.surface import Surface

POINTS = 500


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


@dataclass(frozen=True)
class Seen:
    """What the view shows at points of the surface: places, shading normals and faces, and the colors there, 0 to 255."""

    points: np.ndarray
    normals: np.ndarray
    faces: np.ndarray
    colors: np.ndarray


def seen(browser, surface: Surface, count: int = POINTS, seed: int = 4) -> Seen:
    """Random points of the surface that the view shows, away from the model's outline."""
    browser.settle()
    view = browser.css("[data-testid=view]")
    matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
    box = view.rect
    picture = browser.screenshot()[int(box["y"]) : int(box["y"] + box["height"]), : int(box["width"])]
    rng = np.random.default_rng(seed)
    found: list[tuple[np.ndarray, ...]] = []
    # As many as it takes: a ray is tried against every triangle.
    while sum(len(pixels) for pixels, *_ in found) < count:
        assert len(found) < 12, "the model fills some of the view"
        found.append(_met(surface, matrix, box, rng, count // 2))
    pixels, points, normals, faces = (np.concatenate(parts)[:count] for parts in zip(*found, strict=True))
    return Seen(points, normals, faces, picture[pixels[:, 1], pixels[:, 0]])


def _met(surface: Surface, matrix: np.ndarray, box: dict, rng: np.random.Generator, count: int):
    """Of so many random pixels those that show the surface: pixels, and places, shading normals and faces there."""
    pixels = np.column_stack(
        [rng.integers(5, box["width"] - 5, count), rng.integers(95, box["height"] - 65, count)]
    )
    origin, direction = rays(matrix, pixels, (box["width"], box["height"]))
    triangle, place = first_hits(surface, origin, direction)
    met = np.flatnonzero(triangle >= 0)
    corners = surface.triangles[triangle[met]]
    points = np.einsum("nk,nkj->nj", place[met], surface.mesh.points[surface.mesh.corners[corners]])
    normals = np.einsum("nk,nkj->nj", place[met], surface.shading_normals[corners].astype(float))
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    # Away from the outline, where a pixel holds some of what is behind.
    inside = (normals * -direction[met]).sum(axis=1) > 0.3
    met, points, normals = met[inside], points[inside], normals[inside]
    return pixels[met], points, normals, surface.triangle_face[triangle[met]]
