"""Saltmarsh Lido: an invented bathing pavilion by a tidal pool."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh
from pivrel.demo.shapes import BOX_FACES, Assembly, box, box_points, grid, prism, swept, turned, wall

LENGTH, DEPTH, HEIGHT, THICK = 12000.0, 6000.0, 2625.0, 327.5
"""The brick plinth: 35 courses of 75 mm high, one and a half bricks thick."""


def build(revision: int = 1) -> Mesh:
    """The whole pavilion with its pool.

    Revision 2 is what the designer sends next: the north wall stands 400 mm further out, the south wall
    has one more window, screen A six more boards, and the counter's top is called the bar's.
    """
    lido = Assembly()
    _plinth(lido, revision)
    _roof(lido)
    _columns(lido)
    _drum(lido)
    _screens(lido, revision)
    _counter(lido, revision)
    _steps_and_rail(lido)
    _ground(lido)
    _buoy_and_boulders(lido)
    return lido.mesh()


def _plinth(to: Assembly, revision: int) -> None:
    openings = [(1350, 2475, 900, 2100), (3825, 4950, 0, 2175), (6750, 10800, 900, 2100)]
    if revision > 1:
        openings.append((5400, 6300, 1500, 2100))
    wall(to, "Wall south", (0, 0, 0), (LENGTH, 0, 0), HEIGHT, THICK, openings)
    wall(to, "Wall east", (LENGTH, THICK, 0), (LENGTH, DEPTH, 0), HEIGHT, THICK, [(2250, 3375, 900, 2100)])
    north = DEPTH + (400 if revision > 1 else 0)
    wall(to, "Wall north", (LENGTH - THICK, north, 0), (0, north, 0), HEIGHT, THICK,
         [(2700, 3600, 1500, 2100), (4500, 5400, 1500, 2100)])  # fmt: skip
    # The west wall is one concave outline round its door, as many programs would export it.
    y0, y1 = THICK, DEPTH - THICK
    elevation = [
        (y0, 0),
        (2400, 0),
        (2400, 2175),
        (3525, 2175),
        (3525, 0),
        (y1, 0),
        (y1, HEIGHT),
        (y0, HEIGHT),
    ]
    prism(to, "Wall west", elevation, 0.0, THICK, axis="x")
    for name, middle, half in (("Sill south 1", 1912.5, 640.0), ("Sill south 2", 8775.0, 2100.0)):
        # A hair above the wall, as a sill is bedded on it.
        box(to, name, (middle - half, -60.0, 864.0), (middle + half, THICK - 60.0, 904.0))


def _roof(to: Assembly) -> None:
    """A segmental barrel vault of 96 flat strips with overhanging eaves, and its two gables."""
    eaves, rise, over = DEPTH / 2 + 700, 1500.0, 700.0
    radius = (eaves**2 + rise**2) / (2 * rise)
    half = np.arcsin(eaves / radius)
    angle = np.linspace(-half, half, 97)
    x = np.linspace(-over, LENGTH + over, 17)
    base = HEIGHT + 525
    for name, r, outside in (("Vault outside", radius, True), ("Vault soffit", radius - 120, False)):
        y = DEPTH / 2 + r * np.sin(angle)
        z = base + r * np.cos(angle) - radius * np.cos(half)
        points = np.stack(np.broadcast_arrays(x[:, None], y[None, :], z[None, :]), axis=-1)
        grid(to, name, points if outside else points[::-1])
    inner, outer = radius - 120, radius
    ring = [
        [(DEPTH / 2 + r * np.sin(a), base + r * np.cos(a) - radius * np.cos(half)) for a in angle]
        for r in (inner, outer)
    ]
    for name, at, flip in (("Vault edge west", -over, False), ("Vault edge east", LENGTH + over, True)):
        points = np.array([[(at, y, z) for y, z in row] for row in ring])
        grid(to, name, points[::-1] if flip else points)
    for name, at, out in (("Gable west", 0.0, -1), ("Gable east", LENGTH, 1)):
        arc = [(y, z) for y, z in ring[0] if 0 <= y <= DEPTH]
        outline = [(0.0, HEIGHT), (DEPTH, HEIGHT), *reversed(arc)]
        near = at if out < 0 else at - THICK
        prism(to, name, outline, near, near + THICK, axis="x")
    for name, front in (("Wall plate south", 0.0), ("Wall plate north", DEPTH - THICK)):
        box(to, name, (THICK, front, HEIGHT), (LENGTH - THICK, front + THICK, HEIGHT + 150))


def _columns(to: Assembly) -> None:
    profile = [(0, 0), (190, 0), (190, 60), (150, 90), (147, 800), (144, 1500), (140, 2300), (135, 2980),
               (175, 3030), (175, 3090), (0, 3090)]  # fmt: skip
    for i, along in enumerate(np.linspace(600, LENGTH - 600, 6), 1):
        turned(to, f"Column {i}", (along, -1700, -150), profile, 48)


def _drum(to: Assembly) -> None:
    """The curved wall round the showers: two thirds of a ring, 215 mm thick."""
    centre, height = (LENGTH + 3600, 3000, -150), 2700.0
    rings = list(np.linspace(0, height, 10))
    loop = [(2400.0, h) for h in rings] + [(2185.0, h) for h in reversed(rings)]
    turned(to, "Drum wall", centre, [*loop, loop[0]], 96, arc=(-150, 110))
    for end, flip in ((-150, True), (110, False)):
        a = np.radians(end)
        points = [(centre[0] + r * np.cos(a), centre[1] + r * np.sin(a), centre[2] + h) for r, h in loop]
        face = tuple(range(len(points)))
        to.add("Drum wall", points, [face if flip else face[::-1]])
    turned(to, "Shower post", (centre[0], centre[1], -150), [(0, 0), (38, 0), (38, 2250), (0, 2250)], 32)
    turned(
        to, "Shower rose", (centre[0], centre[1], 2100), [(0, 0), (120, 0), (120, 25), (40, 60), (0, 60)], 48
    )


def _screens(to: Assembly, revision: int) -> None:
    """Boarded screens of separate boards; every third is a scaled copy of one board, as found in practice."""
    board = box_points((0, 0, 0), (140, 28, 2150))
    random = np.random.default_rng(7)
    for screen, (x, y, count) in {"A": (-2900, 400, 15), "B": (-2900, 4300, 11)}.items():
        more = 6 if revision > 1 and screen == "A" else 0
        for i in range(count + more):
            scale = np.array([1.0, 1.0, 1.0])
            if i % 3 == 1:
                scale = np.array([1.0, 1.0, 0.72 + 0.2 * random.random() if i < count else 0.85])
            points = board * scale + (x + i * 152, y, -60)
            to.add(f"Screen {screen} board {i + 1:02}", points, BOX_FACES)
        box(to, f"Screen {screen} rail low", (x - 40, y + 28, 250), (x + count * 152 + 28, y + 78, 340))
        box(to, f"Screen {screen} rail high", (x - 40, y + 28, 1500), (x + count * 152 + 28, y + 78, 1590))


def _counter(to: Assembly, revision: int) -> None:
    """The kiosk's L-shaped counter: a thick top over a recessed body."""
    x, y = 6700.0, -120.0
    top = [
        (x, y - 500),
        (x + 4150, y - 500),
        (x + 4150, y + 100),
        (x + 700, y + 100),
        (x + 700, y + 60),
        (x, y + 60),
    ]
    prism(to, "Bar top" if revision > 1 else "Counter top", top, 860, 940)
    box(to, "Counter body", (x + 90, y - 400, -150), (x + 4060, y + 60, 860))
    box(to, "Bench", (1100, 6700, 300), (4700, 7150, 380))
    for i, at in enumerate((1300, 2900, 4400), 1):
        box(to, f"Bench foot {i}", (at, 6760, -150), (at + 120, 7090, 300))


def _steps_and_rail(to: Assembly) -> None:
    for i in range(4):
        box(
            to,
            f"Step {i + 1}",
            (3300, -3300 - i * 320, -900),
            (5500, -2980 - i * 320, -150 - 150 * (i + 1) + 0),
        )
    # A level run over the deck, a bend, and a slope down beside the steps.
    t = np.linspace(0, 1, 100)
    start, knee = np.array([800.0, -2850, 750]), np.array([3150.0, -2850, 750])
    bend = np.array(
        [[3150 + 250 * np.sin(a), -2850 - 250 * (1 - np.cos(a)), 750 - 60 * a] for a in t * np.pi / 2]
    )
    slope = bend[-1] + t[1:, None] * np.array([0, -1250, -520])
    path = np.concatenate([start + t[:-1, None] * (knee - start), bend, slope])
    swept(to, "Handrail", path, 24, 24)
    for i, at in enumerate((20, 60, 97, 215, 290), 1):
        x, y, z = path[at]
        foot = -150 if at < 200 else z - 880
        turned(to, f"Rail post {i}", (x, y, foot), [(0, 0), (18, 0), (18, z - foot), (0, z - foot)], 24)


def _ground(to: Assembly) -> None:
    """The deck with its cut-out, the pool basin and the lumpy foreshore."""
    deck = [(-3600, -2980), (3300, -2980), (3300, -2900), (5500, -2900), (5500, -2980), (13200, -2980),
            (18600, -1200), (18600, 7600), (-3600, 7600)]  # fmt: skip
    prism(to, "Deck", deck, -300, -150)
    prism(
        to,
        "Floor",
        [(THICK, THICK), (LENGTH - THICK, THICK), (LENGTH - THICK, DEPTH - THICK), (THICK, DEPTH - THICK)],
        -150,
        0,
    )
    low, high = (-2400.0, -11400.0), (11800.0, -4900.0)
    for name, a, b in (
        ("Pool wall north", (low[0] - 400, high[1]), (high[0] + 400, high[1] + 400)),
        ("Pool wall south", (low[0] - 400, low[1] - 400), (high[0] + 400, low[1])),
        ("Pool wall west", (low[0] - 400, low[1]), (low[0], high[1])),
        ("Pool wall east", (high[0], low[1]), (high[0] + 400, high[1])),
    ):
        box(to, name, (*a, -2300), (*b, -750))
    box(to, "Pool floor", (*low, -2400), (*high, -2250))
    to.add("Water", [(*low, -1000), (high[0], low[1], -1000), (*high, -1000), (low[0], high[1], -1000)],
           [(0, 1, 2, 3)], "water")  # fmt: skip
    n = 72
    u, v = np.meshgrid(np.linspace(-5000, 20000, n), np.linspace(-13200, 8900, n), indexing="ij")
    lump = 260 * np.sin(u / 1900 + 0.6) * np.cos(v / 1500) + 170 * np.sin(u / 700 + v / 900) * np.sin(v / 610)
    inside = np.minimum.reduce([u + 3900, 18900 - u, v + 12300, 7900 - v])
    level = -950 + lump + np.where(inside > -600, -1650.0 * np.clip((inside + 600) / 600, 0, 1), 0)
    grid(to, "Foreshore", np.stack([u, v, level], axis=-1))


def _buoy_and_boulders(to: Assembly) -> None:
    """A mooring ball afloat in the pool, and boulders on the foreshore that no single projection fits."""
    _lump(to, "Mooring ball", np.array([8600.0, -7600, -900]), np.array([620.0, 620, 620]), [])
    for name, centre, size, seed in (
        ("Boulder 1", (16100, -4600, -450), (1500, 1050, 900), 3),
        ("Boulder 2", (14300, -6300, -700), (820, 900, 620), 8),
    ):
        random = np.random.default_rng(seed)
        waves = [
            (random.normal(size=3) * 1.9, random.uniform(0, 6.3), random.uniform(0.04, 0.09))
            for _ in range(7)
        ]
        _lump(to, name, np.array(centre, float), np.array(size, float), waves)


def _lump(
    to: Assembly, part: str, centre: Floats, size: Floats, waves: Sequence[tuple[Floats, float, float]]
) -> None:
    """A closed body: a ball whose radius swells and shrinks by direction, wave by wave."""
    rows, around = 26, 44
    up = np.radians(np.linspace(-90, 90, rows + 1))[1:-1]
    turn = np.linspace(0, 2 * np.pi, around, endpoint=False)
    ring = np.stack(
        [
            np.cos(up)[None, :] * np.cos(turn)[:, None],
            np.cos(up)[None, :] * np.sin(turn)[:, None],
            np.broadcast_to(np.sin(up)[None, :], (around, len(up))),
        ],
        axis=-1,
    )
    poles = np.array([[0.0, 0, -1], [0, 0, 1]])

    def swollen(direction: Floats) -> Floats:
        swell = np.ones(direction.shape[:-1])
        for wave, phase, depth in waves:
            swell = swell + depth * np.sin(direction @ wave + phase)
        return centre + direction * size * swell[..., None]

    body, ends = swollen(ring), swollen(poles)
    grid(to, part, body, close_rows=True)
    for i in range(around):
        j = (i + 1) % around
        to.add(part, [ends[0], body[j, 0], body[i, 0]], [(0, 1, 2)])
        to.add(part, [ends[1], body[i, -1], body[j, -1]], [(0, 1, 2)])
