"""Bent surfaces as meshes, stated by formulas: for layings that follow the surface."""

from __future__ import annotations

import numpy as np

from pivrel.core.geometry.surface import Surface
from tests.shapes import mesh_of


def grid(place, along, across, closed=False, cut="quads", jitter=0.0, seed=1):
    """A surface over the unit square: place maps (N,) u and (N,) v to (N, 3) mm.

    closed: u = 1 is u = 0. cut: "quads", "triangles", or "either" diagonal by chance. jitter: how far vertices that are not
    on the border are moved within the surface, as a share of a cell.
    """
    rng = np.random.default_rng(seed)
    u, v = np.meshgrid(np.arange(along + 1) / along, np.arange(across + 1) / across, indexing="ij")
    if closed:
        u, v = u[:-1], v[:-1]
    if jitter:
        inner = np.zeros(u.shape, bool)
        inner[slice(None) if closed else slice(1, -1), 1:-1] = True
        u = u + inner * rng.uniform(-jitter, jitter, u.shape) / along
        v = v + inner * rng.uniform(-jitter, jitter, v.shape) / across
    ids = np.arange(u.size).reshape(u.shape)
    a, b = ids[:along, :-1], np.roll(ids, -1, axis=0)[:along, :-1]
    c, d = np.roll(ids, -1, axis=0)[:along, 1:], ids[:along, 1:]
    quads = np.stack([a, b, c, d], axis=-1).reshape(-1, 4)
    faces = quads
    if cut != "quads":
        first = np.ones(len(quads), bool) if cut == "triangles" else rng.random(len(quads)) < 0.5
        one = np.where(first[:, None], quads[:, [0, 1, 2]], quads[:, [0, 1, 3]])
        two = np.where(first[:, None], quads[:, [0, 2, 3]], quads[:, [1, 2, 3]])
        faces = np.stack([one, two], axis=1).reshape(-1, 3)
    return Surface(mesh_of(place(u.reshape(-1), v.reshape(-1)), faces))


def sector(inner, outer, angle, rise=0.0):
    """Of an annulus, and of a helicoid where it rises (mm a radian)."""

    def place(u, v):
        r, a = inner + v * (outer - inner), u * angle
        return np.column_stack([r * np.sin(a), -r * np.cos(a), rise * a])

    return place


def cone(inner, outer, drop, angle=2 * np.pi):
    """A ring on a cone that drops by so many mm from the inner border to the outer."""

    def place(u, v):
        r, a = inner + v * (outer - inner), u * angle
        return np.column_stack([r * np.cos(a), r * np.sin(a), -v * drop])

    return place


def torus_half(radius, tube):
    """The outer half of a torus, from its bottom to its top."""

    def place(u, v):
        a, b = 2 * np.pi * u, np.pi * (v - 0.5)
        r = radius + tube * np.cos(b)
        return np.column_stack([r * np.cos(a), r * np.sin(a), tube * np.sin(b)])

    return place


def winding_wall(length=6000.0, swing=900.0, height=2400.0):
    """An upright wall in an S."""

    def place(u, v):
        return np.column_stack([length * u, swing * np.sin(2 * np.pi * u), height * v])

    return place


def bent_pipe(bend=2000.0, tube=200.0, angle=2.0):
    """A pipe round a bend; u goes round it."""

    def place(u, v):
        r = bend + tube * np.cos(2 * np.pi * u)
        return np.column_stack([r * np.cos(v * angle), r * np.sin(v * angle), tube * np.sin(2 * np.pi * u)])

    return place


def split_vault(count, pieces, radius=1000.0, length=500.0):
    """Flat strips round a half cylinder, every other one with its straight edges split."""
    a = np.pi * np.arange(count + 1) / count
    ring = np.column_stack([radius * np.cos(a), radius * np.sin(a)])
    points = [*(np.append(p, 0.0) for p in ring), *(np.append(p, length) for p in ring)]
    faces = []
    for i in range(count):
        near, far = i + 1, count + 2 + i
        face = [i, near]
        for k in range(1, pieces if i % 2 == 0 else 1):
            points.append(points[near] + k / pieces * (points[far] - points[near]))
            face.append(len(points) - 1)
        faces.append([*face, far, count + 1 + i])
    return Surface(mesh_of(np.array(points), faces))


def twisted_band(count=60, radius=1000.0, width=400.0):
    """A band with a half twist: it has one side only."""
    points, faces = [], []
    for i in range(count):
        a = 2 * np.pi * i / count
        for k in (-1, 0, 1):
            r = radius + k * width / 2 * np.cos(a / 2)
            points.append((r * np.cos(a), r * np.sin(a), k * width / 2 * np.sin(a / 2)))
    for i in range(count):
        for k in range(2):
            n = 3 * (i + 1)
            far = (n + k, n + k + 1) if i < count - 1 else (2 - k, 1 - k)
            faces.append((3 * i + k, far[0], far[1], 3 * i + k + 1))
    return Surface(mesh_of(np.array(points), faces))


def random_strip(seed):
    """A strip that bends, twists, swells and bulges by chance, cut and jittered by chance."""
    rng = np.random.default_rng(seed)
    n, m = int(rng.integers(4, 60)), int(rng.integers(1, 8))
    length, width = rng.uniform(800, 4000), rng.uniform(100, 900)
    bend = rng.uniform(-1, 1, 3) * rng.choice([0, 0.5, 1, 2])
    twist, swell, phase = (
        rng.uniform(-1, 1) * rng.choice([0, 1, 2.5]),
        rng.uniform(0, 0.35),
        rng.uniform(0, 6, 3),
    )
    t = np.linspace(0, 1, n + 1)
    head = 2 * bend[0] * t + bend[1] * np.sin(4 * t + phase[0])
    pitch = 0.7 * bend[2] * np.sin(3 * t + phase[1])
    ahead = np.column_stack([np.cos(head) * np.cos(pitch), np.sin(head) * np.cos(pitch), np.sin(pitch)])
    way = np.vstack([[0, 0, 0], np.cumsum((ahead[1:] + ahead[:-1]) / 2 * length / n, axis=0)])
    side = np.cross([0, 0, 1.0], ahead)
    side /= np.linalg.norm(side, axis=1)[:, None]
    across = np.cos(twist * t)[:, None] * side + np.sin(twist * t)[:, None] * np.cross(ahead, side)
    v = np.linspace(-0.5, 0.5, m + 1)
    wide = width * (1 + swell * np.sin(5 * t + phase[2]))
    points = way[:, None] + across[:, None] * (wide[:, None] * v)[..., None]
    bulge = rng.uniform(0, 0.15) * width * np.cos(np.pi * v)
    points += np.cross(ahead, across)[:, None] * bulge[None, :, None]
    jitter = rng.choice([0, 0.1, 0.2])
    points[1:-1, 1:-1] += rng.uniform(-jitter, jitter, points[1:-1, 1:-1].shape) * min(length / n, width / m)
    ids = np.arange((n + 1) * (m + 1)).reshape(n + 1, m + 1)
    faces = []
    for i in range(n):
        for k in range(m):
            q = (ids[i, k], ids[i + 1, k], ids[i + 1, k + 1], ids[i, k + 1])
            faces += [q[:3], (q[0], q[2], q[3])] if rng.random() < 0.5 else [(q[0], q[1], q[3]), q[1:]]
    return Surface(mesh_of(points.reshape(-1, 3), faces))
