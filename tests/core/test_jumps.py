"""Seams by channel, and a seam that a coat along it hides."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from pivrel.core.cache import KeepAll
from pivrel.core.coats.coat import Coat
from pivrel.core.coats.masks.nearness import Seams as AlongSeams
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.evaluation.jumps import find_jumps
from pivrel.core.evaluation.textures import Textures
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.picks import All
from pivrel.core.projection import Box, Cylindrical, Triplanar
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from tests.shapes import column, cuboid

SIDE = 64


def waves(seed, channels=1):
    """A smooth image that repeats, its values from 0 to 1."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[:SIDE, :SIDE] / SIDE * 2 * np.pi
    out = [
        sum(np.sin(i * x + j * y + rng.uniform(0, 6)) for i in range(1, 4) for j in range(1, 4))
        for _ in range(channels)
    ]
    stacked = np.stack(out, axis=2)
    return 0.5 + stacked / (2 * np.abs(stacked).max())


def stone(seed=1):
    bumps = (waves(seed + 5, 2) - 0.5) * 0.6
    normal = np.dstack([bumps, np.ones((SIDE, SIDE))])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    return Textures(
        base_color=waves(seed, 3), normal=normal / 2 + 0.5, roughness=waves(seed + 1), height=waves(seed + 2),
        occlusion=waves(seed + 3),
    )  # fmt: skip


# 942 mm round, which is no whole number of repeats: the sheet breaks at one seam up the column.
COLUMN = Surface(column(96, 150, 600, rows=6))
SHEET = Material("m", (170.0, 170.0))


def scheduled(finish, surface=COLUMN):
    return Schedule(surface, "s", {"F1": finish}, KeepAll())


def jumps_of(finish, textures, surface=COLUMN):
    schedule = scheduled(finish, surface)
    return schedule, find_jumps(schedule.coated("F1"), schedule.seams("F1"), textures)


BARE_COLUMN = Finish("f", SHEET, All(), Cylindrical(), Datum(), material_key="m")


def side_edges(schedule, jumps):
    """Which edges lie on the column's side, not at its ends."""
    seams = schedule.seams("F1")
    own = np.flatnonzero(seams.length_mm > 0)
    ends = COLUMN.mesh.points[COLUMN.ends_of(seams.pairs[own, 0])]
    normals = COLUMN.normals[COLUMN.topology.corner_face[seams.pairs[own]]]
    flat = np.abs(normals[..., 2]).max(axis=1) < 1
    return flat, ends


def test_what_breaks_is_the_open_seam_and_nothing_else():
    schedule, jumps = jumps_of(BARE_COLUMN, {"m": stone()})
    flat, _ = side_edges(schedule, jumps)
    broken = schedule.seams("F1").broken[schedule.seams("F1").length_mm > 0]
    for channel in ("base_color", "height", "roughness", "occlusion", "normal"):
        assert jumps.length_mm[jumps.breaks(channel) & flat].sum() == pytest.approx(600, rel=0.4)
        assert not (jumps.breaks(channel) & flat & ~broken).any()
    assert jumps.broken_mm("metallic") == 0


def test_a_color_may_run_on_where_the_height_does_not():
    """A color without a pattern runs on across every edge of a box; its height does not."""
    even = Textures(base_color=np.full((4, 4, 3), 0.3), height=stone().height)
    box = Finish("f", SHEET, All(), Box(), Datum((0, 0, 0)), material_key="m")
    surface = Surface(cuboid(400, 333, 277))
    schedule, jumps = jumps_of(box, {"m": even}, surface)
    open_m = schedule.figures("F1").seams_m
    assert jumps.broken_mm("base_color") == 0
    assert jumps.broken_mm("height") / 1000 == pytest.approx(open_m, rel=0.15) and open_m > 1


APART = 4.0


def steps(coated, textures, points, normals, faces):
    """(N, channels) what a finish shows at points."""
    shown = coated.evaluate(coated.places(points, normals, faces), textures)
    return {
        "base_color": np.sqrt(np.clip(shown.base_color, 0, 1)), "normal": shown.normal - normals,
        "roughness": shown.roughness[:, None], "height": shown.height[:, None] / 10, "occlusion": shown.occlusion[:, None],
    }  # fmt: skip


def pairs_round(angle, count=400):
    """Points 4 mm apart round the column, half of it either side of an angle, at many heights; with their faces."""
    rng = np.random.default_rng(7)
    z = rng.uniform(20, 580, count)
    facets = COLUMN.centroids
    side = np.flatnonzero(np.abs(COLUMN.normals[:, 2]) < 1)
    out = []
    for sign in (-1, 1):
        turn = angle + sign * APART / 2 / 150
        normal = np.column_stack([np.cos(turn), np.sin(turn), np.zeros_like(z)]) if np.ndim(turn) else np.tile(
            [np.cos(turn), np.sin(turn), 0.0], (count, 1))  # fmt: skip
        point = normal * 150 + np.column_stack([np.zeros(count), np.zeros(count), z])
        near = np.argmin(((facets[side][None] - point[:, None] * [1, 1, 1]) ** 2).sum(axis=2), axis=1)
        out.append((point, normal, side[near].astype(np.int32)))
    return out


def mean_step(coated, textures, angle):
    (p, n, f), (q, m, g) = pairs_round(angle)
    a, b = steps(coated, textures, p, n, f), steps(coated, textures, q, m, g)
    return {channel: float(np.abs(a[channel] - b[channel]).mean()) for channel in a}


def seam_angle(schedule):
    seams = schedule.seams("F1")
    own = seams.broken & (seams.length_mm > 10)
    middle = COLUMN.mesh.points[COLUMN.ends_of(seams.pairs[own, 0])].mean(axis=1)
    middle = middle[np.hypot(*middle[:, :2].T) > 140]
    up = COLUMN.mesh.points[COLUMN.ends_of(seams.pairs[own, 0])]
    upright = np.abs(np.diff(up[..., 2], axis=1))[:, 0] > 50
    at = up[upright].mean(axis=1)
    assert len(at)
    return float(np.arctan2(at[:, 1].mean(), at[:, 0].mean()))


def shifted(by, mended):
    """The column with its sheet, and that of the coat, shifted: the mean over several says more than one."""
    over = SheetOver("m", SHEET, Triplanar(0.3), Datum((3, 5, 7)), turn_deg=90, offset_mm=(2 * by, by))
    coat = Coat("Along the seam", over, AlongSeams(within_mm=60, soft_mm=40))
    return replace(BARE_COLUMN, offset_mm=(by, 3 * by), coats=(coat,) if mended else ())


@pytest.mark.slow
def test_a_triplanar_coat_along_a_cylinders_seam_hides_it_in_every_channel(record_property):
    """The step across the seam falls from several times the steps elsewhere to within 15 % of them."""
    textures = {"m": stone()}
    angle = seam_angle(scheduled(BARE_COLUMN))
    away = np.random.default_rng(3).uniform(0.9, 5.3, 12)
    for mended in (False, True):
        across, elsewhere = [], []
        for by in range(0, 170, 17):
            coated = scheduled(shifted(float(by), mended)).coated("F1")
            across.append(mean_step(coated, textures, angle))
            elsewhere += [mean_step(coated, textures, angle + turn) for turn in away]
        for channel in across[0]:
            step, usual = (np.mean([one[channel] for one in found]) for found in (across, elsewhere))
            record_property(f"{'after' if mended else 'before'} {channel}", round(float(step / usual), 3))
            if mended:
                assert step < 1.15 * usual, (channel, step / usual)
            else:
                assert step > 2 * usual, channel
