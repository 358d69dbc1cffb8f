"""How the time of each operation grows with the model: seconds by size, and the exponent of the growth.

`python -m benchmarks.growth [--most N] [NAME ...]` prints the table alone.
"""

from __future__ import annotations

import argparse
import gc
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cache
from typing import Literal

import numpy as np

from benchmarks.models import blocks, boards, rolling, squares
from benchmarks.timing import seconds
from pivrel.core import picks
from pivrel.core.cache import KeepAll
from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.measure.figures import measure
from pivrel.core.picks import similar_faces
from pivrel.core.projection import BEST, Box, Cylindrical, Planar, Projection, Spherical, Triplanar, fit
from pivrel.core.revision import match
from pivrel.core.schedule import Schedule
from pivrel.core.sheet import Material
from pivrel.core.sheet.run_on import run_on
from pivrel.core.sheet.variation import Variation
from pivrel.core.trials import trials
from pivrel.core.view.eye import Eye
from pivrel.core.view.outline import within
from pivrel.core.view.sight import look
from pivrel.formats.laid import Look, lay_model
from pivrel.formats.model.gltf_write import write_glb
from pivrel.jobs.import_picture import draw_check
from pivrel.store.meshes import mesh_data, read_mesh

By = Literal["triangles", "rows", "parts", "patches"]

SIZES: dict[By, tuple[int, ...]] = {
    "triangles": (10_000, 100_000, 1_000_000, 4_000_000),
    "rows": (10, 100, 1_000),
    "parts": (10, 200, 2_000),
    "patches": (50, 500, 5_000),
}

ALLOWED = 1.15
"""The greatest exponent between the two largest sizes, but for what sorts or searches trees (n log n)."""

SORTING = 0.1
"""So much more is allowed there: between 1 M and 4 M the logarithm itself grows by a tenth."""

MATERIAL = Material("brick", repeat_mm=(900.0, 600.0))
ALL = picks.All()
OAK = Material("oak", repeat_mm=(1200.0, 400.0), grain_deg=0.0)

Run = Callable[[], object]


@dataclass(frozen=True)
class Operation:
    """prepare: what is measured, for a size; all that it needs is made before. sorts: whether n log n is its nature."""

    name: str
    by: By
    prepare: Callable[[int], Run]
    sorts: bool = False
    most: int = 4_000_000


@cache
def _mesh(triangles: int) -> Mesh:
    return rolling(triangles)


@cache
def ready(triangles: int) -> Surface:
    """A surface with all that is derived of it once."""
    surface = Surface(_mesh(triangles))
    surface.patches()
    _ = surface.triangles, surface.face_areas, surface.centroids, surface.bounds, surface.edge_pairs
    _ = surface.shading_normals
    return surface


def eye_at(surface: Surface, size: tuple[int, int] = (1280, 800)) -> Eye:
    """From above the front left, all of the model in the picture."""
    low, high = surface.bounds
    middle, reach = (low + high) / 2, float(np.linalg.norm(high - low))
    back = np.array([-0.62, -1.0, 0.52]) / np.linalg.norm([-0.62, -1.0, 0.52])
    right = np.cross([0, 0, 1], back)
    right /= np.linalg.norm(right)
    axes = np.stack([right, np.cross(back, right), back])
    view = np.eye(4)
    view[:3, :3], view[:3, 3] = axes, -axes @ (middle + back * reach * 1.3)
    near, far, slope = reach * 0.01, reach * 4, 1 / np.tan(np.radians(20))
    lens = np.zeros((4, 4))
    lens[0, 0], lens[1, 1] = slope * size[1] / size[0], slope
    lens[2, 2], lens[2, 3], lens[3, 2] = -(far + near) / (far - near), -2 * far * near / (far - near), -1
    return Eye(lens @ view, size)


def _finish(projection: Projection, pick: picks.Pick = ALL) -> Finish:
    return Finish("bench", MATERIAL, pick, projection)


def _faces(surface: Surface) -> np.ndarray:
    return np.arange(surface.mesh.face_count, dtype=np.int32)


def _pickable(triangles: int) -> Run:
    return lambda: Surface(_mesh(triangles)).patches()


def _check(triangles: int) -> Run:
    def run() -> object:
        surface = Surface(_mesh(triangles))
        return find_faults(surface)

    return run


def _encode(triangles: int) -> Run:
    return lambda: read_mesh(mesh_data(_mesh(triangles)))


def _picture(triangles: int) -> Run:
    nobody = np.empty(0, np.int32)
    return lambda: draw_check(Surface(_mesh(triangles)), nobody)


def _seen(outline: Callable[[int], np.ndarray], through: bool, level: bool = False) -> Callable[[int], Run]:
    def prepare(triangles: int) -> Run:
        surface = ready(triangles)
        eye, drawn = eye_at(surface), np.ones(surface.mesh.face_count, bool)
        return lambda: within(surface, eye, outline(4), drawn, through, whole=level)

    return prepare


def _rectangle(_: int) -> np.ndarray:
    return np.array([[300.0, 200.0], [900.0, 200.0], [900.0, 600.0], [300.0, 600.0]])


def _lasso(_: int) -> np.ndarray:
    turn = np.linspace(0, 2 * np.pi, 300, endpoint=False)
    reach = 250 + 60 * np.sin(9 * turn)
    return np.stack([640 + reach * np.cos(turn), 400 + reach * np.sin(turn)], axis=1)


def _hidden(triangles: int) -> Run:
    surface = ready(triangles)
    eye, drawn = eye_at(surface), np.ones(surface.mesh.face_count, bool)
    return lambda: look(surface, eye, drawn)


def _on(doing: Callable[[Surface], object]) -> Callable[[int], Run]:
    def prepare(triangles: int) -> Run:
        surface = ready(triangles)
        return lambda: doing(surface)

    return prepare


def _half(surface: Surface) -> np.ndarray:
    return np.arange(surface.mesh.face_count) % 2 == 0


def _taken_off(triangles: int) -> Run:
    surface = ready(triangles)
    whole, half = (picks.by_ids(np.arange(0, triangles, step)) for step in (1, 2))
    return lambda: picks.resolve(picks.removed(whole, half), surface)


def _ring(triangles: int) -> Run:
    surface = Surface(squares(triangles // 2))
    _ = surface.across
    return lambda: similar_faces.ring(surface, 7, surface.centroids[7])


def _measured(projection: Projection) -> Callable[[int], Run]:
    def prepare(triangles: int) -> Run:
        surface = ready(triangles)
        schedule = Schedule(surface, "bench", {"F1": _finish(projection)}, KeepAll())
        finish, faces, settled = schedule.finishes["F1"], schedule.drawn("F1"), schedule.settled("F1")
        return lambda: measure(surface, finish, faces, settled)

    return prepare


def _tried(triangles: int) -> Run:
    surface = ready(triangles)
    candidates = [Planar(), Box(), Cylindrical(), Spherical(), Triplanar()]
    return lambda: trials(surface, _finish(Box()), candidates, BEST)


def _revised(shift: float, surface_of: Callable[[int], Mesh]) -> Callable[[int], Run]:
    def prepare(size: int) -> Run:
        mesh = surface_of(size)
        newer = replace(mesh, points=mesh.points + np.array([shift, 0.0, 0.0]))

        def run() -> object:
            was, now = Surface(mesh), Surface(newer)
            return match(was, now)

        return run

    return prepare


def _written(triangles: int) -> Run:
    schedule = Schedule(ready(triangles), "bench", {"F1": _finish(Box())}, KeepAll())
    return lambda: write_glb(lay_model(schedule, [(Look(), Look(), Look())]))


def _rows(first: bool) -> Callable[[int], Run]:
    """Figures of a schedule on 200,000 triangles, or after one edit of it."""

    def prepare(rows: int) -> Run:
        surface, cache_ = ready(200_000), KeepAll()
        shares = np.array_split(np.arange(surface.mesh.face_count), rows)
        finishes = {f"F{k}": _finish(Box(), picks.by_ids(own)) for k, own in enumerate(shares)}
        schedule = Schedule(surface, "bench", finishes, cache_)

        def figures(schedule: Schedule) -> object:
            return [schedule.figures(key) for key in schedule.keys], schedule.shown_areas(), schedule.bare()

        if first:
            return lambda: figures(Schedule(surface, "bench", finishes, KeepAll()))
        figures(schedule)
        turns = iter(range(1, 1000))

        def edited() -> object:
            turned = replace(finishes["F3"], turn_deg=float(next(turns)))
            return figures(Schedule(surface, "bench", {**finishes, "F3": turned}, cache_))

        return edited

    return prepare


@cache
def _boards(parts: int) -> Surface:
    surface = Surface(boards(parts))
    surface.patches()
    return surface


def _by_part(finish: Finish) -> Callable[[int], Run]:
    def prepare(parts: int) -> Run:
        surface = _boards(parts)

        def run() -> object:
            schedule = Schedule(surface, "bench", {"F1": finish}, KeepAll())
            return schedule.laying("F1"), schedule.figures("F1")

        return run

    return prepare


def _copies(parts: int) -> Run:
    surface = _boards(parts)
    return lambda: similar_faces.copies(surface, 3)


def _globs(parts: int) -> Run:
    surface = _boards(parts)
    named = picks.Parts(tuple(f"board {k}" for k in range(0, 2 * parts, 2)))
    return lambda: picks.resolve(named, surface)


def _ran_on(patches: int) -> Run:
    surface = Surface(blocks(max(patches // 6, 1), 10))
    faces = _faces(surface)
    q = np.zeros((surface.mesh.corner_count, 2))
    q[:] = 1.0 * surface.mesh.points[surface.mesh.corners][:, :2]
    _ = surface.edge_pairs
    return lambda: run_on(surface, faces, q)


BY_PART = Finish("bench", OAK, picks.All(), Box(), datum_for="part")
BY_BOARD = Finish("bench", OAK, picks.All(), Box(), datum_for="board", variation=Variation("board"))

OPERATIONS = (
    Operation("made pickable", "triangles", _pickable),
    Operation("check of an import", "triangles", _check, sorts=True),
    Operation("mesh kept and read back", "triangles", _encode),
    Operation("picture of the check", "triangles", _picture),
    Operation("fit of a box", "triangles", _on(lambda s: fit(s, _faces(s), Box(), BEST))),
    Operation("fit of a cylinder", "triangles", _on(lambda s: fit(s, _faces(s), Cylindrical(), BEST))),
    Operation("figures, box", "triangles", _measured(Box())),
    Operation("figures, cylindrical", "triangles", _measured(Cylindrical())),
    Operation("rectangle", "triangles", _seen(_rectangle, through=False)),
    Operation("rectangle, through", "triangles", _seen(_rectangle, through=True)),
    Operation("outline of 300 places", "triangles", _seen(_lasso, through=False)),
    Operation("outline, through", "triangles", _seen(_lasso, through=True)),
    Operation("outline, whole faces", "triangles", _seen(_lasso, through=False, level=True)),
    Operation("hidden from here", "triangles", _hidden),
    Operation("pick of a plane", "triangles", _on(lambda s: similar_faces.coplanar(s, 7))),
    Operation("pick of a ring", "triangles", _ring),
    Operation(
        "pick by direction",
        "triangles",
        _on(lambda s: picks.resolve(picks.Facing((0.0, 0.0, 1.0), 30.0), s)),
    ),
    Operation("pick of a patch", "triangles", _on(lambda s: picks.resolve(picks.Patches((0,)), s))),
    Operation("pick grown", "triangles", _on(lambda s: picks.grown(_half(s), s))),
    Operation("pick taken off another", "triangles", _taken_off),
    Operation("largest patches", "triangles", _on(picks.largest_patches)),
    Operation("trials", "triangles", _tried, sorts=True, most=1_000_000),
    Operation("revision, as it stood", "triangles", _revised(0.0, _mesh), sorts=True, most=1_000_000),
    Operation("revision, moved", "triangles", _revised(1500.0, _mesh), sorts=True, most=1_000_000),
    Operation("GLB written", "triangles", _written, sorts=True),
    Operation("first figures, 200 k triangles", "rows", _rows(first=True)),
    Operation("figures after an edit", "rows", _rows(first=False)),
    Operation("revision, as it stood, by parts", "parts", _revised(0.0, boards), sorts=True),
    Operation("revision, moved, by parts", "parts", _revised(1500.0, boards), sorts=True),
    Operation("a datum for each part", "parts", _by_part(BY_PART)),
    Operation("no two boards alike", "parts", _by_part(BY_BOARD)),
    Operation("parts of one shape", "parts", _copies),
    Operation("parts by as many names", "parts", _globs),
    Operation("running on", "patches", _ran_on, sorts=True),
)


MOST_ROUNDS = 7
LONG_S = 8.0
"""So long an operation is measured again."""


@dataclass(frozen=True)
class Growth:
    """seconds: by size; exponent: between the two largest sizes."""

    operation: Operation
    seconds: dict[int, float]

    @property
    def exponent(self) -> float:
        (small, before), (large, after) = list(self.seconds.items())[-2:]
        return float(np.log(after / before) / np.log(large / small))

    @property
    def allowed(self) -> float:
        return ALLOWED + (SORTING if self.operation.sorts else 0.0)

    @property
    def met(self) -> bool:
        return self.exponent <= self.allowed

    def json(self) -> dict[str, object]:
        return {
            "what": self.operation.name,
            "by": self.operation.by,
            "seconds": {str(size): round(took, 5) for size, took in self.seconds.items()},
            "exponent": round(self.exponent, 3),
            "at_most": self.allowed,
            "met": self.met,
        }

    def row(self) -> str:
        times = "  ".join(f"{size:>9,}: {took * 1e3:>9.1f} ms" for size, took in self.seconds.items())
        met = "met" if self.met else "MISSED"
        return f"{self.operation.name:<32} {self.operation.by:<9} {times}  n^{self.exponent:4.2f}  {met}"


def measured(operation: Operation, most: int) -> Growth:
    """The least seconds of an operation at each of its sizes, in rounds: a machine that slows down slows all sizes."""
    largest = min(most, operation.most) if operation.by == "triangles" else max(SIZES[operation.by])
    runs = {size: operation.prepare(size) for size in SIZES[operation.by] if size <= largest}
    took: dict[int, list[float]] = {size: [] for size in runs}
    rounds, begun = 0, time.perf_counter()
    # Twice at least: the first run asks the system for its memory.
    while rounds < 2 or (rounds < MOST_ROUNDS and time.perf_counter() - begun < LONG_S):
        rounds += 1
        for size, run in runs.items():
            took[size].append(seconds(run))
    del runs
    gc.collect()
    return Growth(operation, {size: min(times) for size, times in took.items()})


def growth(most: int = 4_000_000, names: tuple[str, ...] = ()) -> Iterator[Growth]:
    """Each operation's growth."""
    for operation in OPERATIONS:
        if not names or any(name in operation.name for name in names):
            yield measured(operation, most)


if __name__ == "__main__":
    from pivrel.memory import keep_freed_memory

    keep_freed_memory()
    parser = argparse.ArgumentParser()
    parser.add_argument("names", nargs="*")
    parser.add_argument("--most", type=int, default=4_000_000)
    given = parser.parse_args()
    for found in growth(given.most, tuple(given.names)):
        print(found.row(), flush=True)
