"""The demo: invented models made by Pivrel's own code, with some work done and some left to do."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.surface import Surface
from pivrel.demo import handle, lido, radio, seat
from pivrel.formats.bundle import Upload
from pivrel.formats.extra import STEP
from pivrel.formats.imported import Imported
from pivrel.formats.reading import read_model
from pivrel.project.appearance import keep_picture, picture_of
from pivrel.project.computing import Computing
from pivrel.project.edits.base import Before, Edit, FinishEdit
from pivrel.project.edits.flip import Flip
from pivrel.project.edits.follow_grain import FollowGrain
from pivrel.project.edits.lay import Lay
from pivrel.project.edits.run_on import RunOn
from pivrel.project.edits.set_coats import SetCoats
from pivrel.project.edits.set_datum_for import SetDatumFor
from pivrel.project.edits.turn_to import TurnTo
from pivrel.project.edits.vary import Vary
from pivrel.project.facts import model_facts
from pivrel.project.laid import LaidProject
from pivrel.recipe import GrainModel, ProjectionModel, VariationModel, changed
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.masks import EveryMask, Facing, FacingMask, Fade, FadeMask, Noise, NoiseMask
from pivrel.recipe.picks import EveryPick, FacingPick, PartsPick
from pivrel.recipe.projections.box import BoxModel
from pivrel.recipe.projections.cylindrical import CylindricalModel
from pivrel.recipe.projections.drape import DrapeModel
from pivrel.recipe.projections.flatten import CutEdges, FlattenModel
from pivrel.recipe.projections.flow import FlowModel
from pivrel.recipe.projections.lines import LinesModel
from pivrel.recipe.projections.planar import PlanarModel
from pivrel.recipe.projections.strokes import StrokeModel
from pivrel.recipe.values import Triple
from pivrel.store import blobs, journal, projects
from pivrel.store.database import Database
from pivrel.store.documents import Contents, Document, LightBody, ViewBody
from pivrel.store.library import fill_library

BOX = BoxModel(kind="box")
LEVEL = PlanarModel(kind="planar", backs="unmirrored")
FLOW = FlowModel(kind="flow")
ROUND = CylindricalModel(kind="cylindrical")


@dataclass(frozen=True)
class DemoFinish:
    """A finish of a demo project: a material on parts.

    facing: only on what looks that way. then: further edits, made on it one after the other.
    """

    material: str
    parts: tuple[str, ...]
    projection: ProjectionModel = BOX
    facing: Triple | None = None
    then: tuple[Callable[[list[str]], FinishEdit], ...] = ()


def _as_boards(finishes: list[str]) -> FinishEdit:
    return FollowGrain(kind="follow_grain", finishes=finishes, grain=GrainModel(along="length"))


def _no_two_alike(finishes: list[str]) -> FinishEdit:
    return Vary(kind="vary", finishes=finishes, variation=VariationModel(by="board", seed=1))


def _running_on(finishes: list[str]) -> FinishEdit:
    return RunOn(kind="run_on", finishes=finishes, run_on=True)


def _upright(finishes: list[str]) -> FinishEdit:
    return TurnTo(kind="turn_to", finishes=finishes, turn_deg=90.0)


def _flipped(finishes: list[str]) -> FinishEdit:
    return Flip(kind="flip", finishes=finishes, way="along")


def _each_its_own(finishes: list[str]) -> FinishEdit:
    return SetDatumFor(kind="set_datum_for", finishes=finishes, datum_for="part")


LEAKS = CoatModel(
    name="Leaks under the eaves",
    material="leak",
    projection=BOX,
    where=FadeMask(fade=Fade(from_mm=(6000, 0, 400), to_mm=(6000, 0, 2200), ease="smooth")),
)
MOSS = CoatModel(
    name="Moss",
    material="moss",
    where=EveryMask(
        every=(
            FacingMask(facing=Facing(direction=(0, 0, 1), within_deg=30, soft_deg=30)),
            NoiseMask(noise=Noise(size_mm=700, seed=3, low=0.42, high=0.56)),
        )
    ),
)


def _under(*coats: CoatModel) -> Callable[[list[str]], FinishEdit]:
    """Lays coats over a finish."""
    return lambda finishes: SetCoats(kind="set_coats", finishes=finishes, coats=coats)


def _line(points: Floats) -> StrokeModel:
    places = np.round(points, 1).tolist()
    return StrokeModel(points=tuple((x, y, z) for x, y, z in places))


# The east wall, the drum, screen B and the smaller boulder are left for the newcomer.
LIDO_FINISHES = (
    DemoFinish("concrete", ("Deck", "Floor", "Step ?", "Pool wall *", "Pool floor")),
    # Its gutter leaks: stains that fade out before they reach the ground.
    DemoFinish("brick", ("Wall south", "Wall west", "Wall north"), then=(_under(LEAKS),)),
    DemoFinish("zinc", ("Vault outside", "Vault edge *"), FLOW),
    DemoFinish("oak", ("Screen A *",), then=(_as_boards, _no_two_alike)),
    DemoFinish("terrazzo", ("Counter top",), then=(_running_on,)),
    DemoFinish("terrazzo", ("Foreshore",), LEVEL),
    DemoFinish("tile", ("Water",), LEVEL),
    DemoFinish("terrazzo", ("Column ?",), ROUND, then=(_each_its_own,)),
    # Seen from within, so the sheet is turned over.
    DemoFinish("oak", ("Vault soffit",), ROUND, then=(_flipped,)),
    DemoFinish("brick", ("Gable *",)),
    DemoFinish("concrete", ("Counter body", "Bench*", "Sill *", "Wall plate *")),
    DemoFinish("oak", ("Handrail",), FLOW),
    # Its layers dip to the water.
    DemoFinish(
        "concrete",
        ("Boulder 1",),
        LinesModel(kind="lines", lines=(_line(np.linspace((14900, -4900, 150), (17250, -4350, 0), 24)),)),
        facing=(0, 0, 1),
        then=(_under(MOSS),),
    ),
)
RADIO_FINISHES = (
    DemoFinish("walnut", ("Cabinet *",), then=(_upright, _running_on)),
    DemoFinish("twill", ("Front cloth",)),
    DemoFinish("zinc", ("Front panel", "Back panel", "Dial *")),
    DemoFinish("walnut", ("Knob ?",)),
    DemoFinish("concrete", ("Foot ?",)),
)
SEAT_GRAIN = LinesModel(kind="lines", lines=(_line(seat.face(np.zeros(40), np.linspace(0.03, 0.97, 40))),))
SEAT_FINISHES = (
    DemoFinish("walnut", ("Seat face",), SEAT_GRAIN, then=(_upright,)),
    # The same through the shell, seen from behind: the grain meets at its edge.
    DemoFinish(
        "walnut",
        ("Seat back",),
        DrapeModel(kind="drape", over=PartsPick(parts=("Seat face",)), laid=SEAT_GRAIN),
        then=(_upright, _flipped),
    ),
    DemoFinish("walnut", ("Seat edge",), FLOW, then=(_upright,)),
    DemoFinish("oak", ("Leg *",), FLOW),
)
HANDLE_FINISHES = (
    DemoFinish(
        "walnut",
        ("Handle",),
        FlattenModel(
            kind="flatten",
            cuts=CutEdges(edges=tuple(_line(chain).points for chain in handle.cuts())),
            upright="grain",
        ),
        then=(_upright,),
    ),
)
BRACKET_FINISHES = (DemoFinish("zinc", ("*Wall plate",)),)


LIDO_VIEWS = (
    ViewBody(
        name="From the pool", position_mm=(-4500, -16500, 3600), target_mm=(5400, -1200, 700), up=(0, 0, 1),
        height_mm=None, light=LightBody(sun_deg=232, up_deg=36),
    ),
    ViewBody(
        name="The colonnade", position_mm=(-1700, -4300, 1500), target_mm=(4600, -300, 1350), up=(0, 0, 1),
        height_mm=None, light=LightBody(sun_deg=250, up_deg=48),
    ),
    ViewBody(
        name="The drum", position_mm=(24500, -9500, 4200), target_mm=(13800, 2600, 1100), up=(0, 0, 1),
        height_mm=None, light=LightBody(sun_deg=292, up_deg=40),
    ),
)  # fmt: skip
NOTES = {
    "lido": "The pavilion and its pool are done. Pick the round drum and press “Try all”; the east wall, screen B "
    "and the smaller boulder are yours too. The roof, the handrail and the large boulder show what follows a "
    "surface; the stained brick and the moss are coats over their finishes.",
    "seat": "A moulded shell: the grain follows a line up the seat, and the back takes it through the shell. Click the "
    "first row and bend the line by its grips, or size it by the outline of the sheet.",
    "handle": "Three cuts, round its ends and along its back, and the handle lies flat with the grain along it. Open the "
    "flat view beside it, move a piece there, or lay another wood.",
    "radio": "It is finished. Choose a row and drag its outline on the cabinet, or compare another veneer under Material.",
    "bracket": "A CAD model: its patches are the true faces. Pick the bent one and press “Try all”.",
}


def fill(database: Database) -> Iterator[str]:
    """Adds what is missing of the library and of the demo projects; one line for each."""
    yield from fill_library(database)
    with database.reading() as db:
        there = projects.demo_keys(db)
    if "bracket" not in there and not STEP.is_there:
        yield f"left out: the towel hook, a STEP model: it {STEP.missing}"
    elif "bracket" not in there:
        # The CAD kernel takes seconds to load; whoever has the demo already should not wait for it.
        from pivrel.demo import bracket

        file = ("towel-hook (made up).step", bracket.step())
        imported = read_model(*file, Upload({}))
        yield _project(database, "bracket", "Towel hook", imported, BRACKET_FINISHES, file)
    if "radio" not in there:
        imported = Imported(radio.build(), "mm", "z", False, ())
        yield _project(
            database, "radio", "Table radio", imported, RADIO_FINISHES, ("table-radio (made up)", b"")
        )
    if "seat" not in there:
        imported = Imported(seat.build(), "mm", "z", False, ())
        yield _project(
            database, "seat", "Moulded seat", imported, SEAT_FINISHES, ("moulded-seat (made up)", b"")
        )
    if "handle" not in there:
        imported = Imported(handle.build(), "mm", "z", False, ())
        yield _project(
            database, "handle", "Moulded handle", imported, HANDLE_FINISHES, ("moulded-handle (made up)", b"")
        )
    if "lido" not in there:
        imported = Imported(lido.build(), "mm", "z", False, ())
        yield _project(
            database, "lido", "Saltmarsh Lido", imported, LIDO_FINISHES, ("saltmarsh-lido (made up)", b"")
        )


def _project(
    database: Database,
    key: str,
    name: str,
    imported: Imported,
    finishes: Sequence[DemoFinish],
    file: tuple[str, bytes],
) -> str:
    mesh, computing = imported.mesh, Computing()
    surface = Surface(mesh)
    with database.transaction() as db:
        facts = model_facts(imported, file[0])
        if file[1]:
            facts = changed(facts, files=[blobs.put_original(db, *file)])
        facts = changed(facts, note=NOTES[key])
        project_id = projects.create(db, name, blobs.put_mesh(db, mesh), facts, key)
        project = projects.existing(db, project_id)
        library = projects.library(db)
        laid = LaidProject(project.mesh, surface, Contents(), computing)

        def edited(laid: LaidProject, edit: Edit) -> LaidProject:
            return laid.with_contents(edit.done(Before(project, laid, lambda: library, dict)).contents)

        for finish in finishes:
            parts = PartsPick(parts=finish.parts)
            up = finish.facing and FacingPick(facing=finish.facing, within_deg=75)
            pick = EveryPick(every=(parts, up)) if up else parts
            laid = edited(
                laid, Lay(kind="lay", material=finish.material, pick=pick, projection=finish.projection)
            )
            for further in finish.then:
                laid = edited(laid, further([laid.keys[-1]]))
        views = LIDO_VIEWS if key == "lido" else ()
        kept = {f"V{at}": Document(f"V{at}", at, view) for at, view in enumerate(views, 1)}
        laid = laid.with_contents(replace(laid.contents, views=kept))
        # Not by the journal: undo begins with the newcomer's own first edit.
        journal.carry_out(db, project_id, journal.changes_between(Contents(), laid.contents))
        # Drawn now, so that the first page does not wait for it.
        keep_picture(db, project, picture_of(db, computing, project))
    return f"project: {name} ({len(mesh.part_names)} parts, {len(surface.triangles):,} triangles)"
