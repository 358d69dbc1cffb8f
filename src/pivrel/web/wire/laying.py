"""What is measured of finishes, what is drawn of datums, previews and trials."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, RootModel

from pivrel.core.projection.charts import Shape
from pivrel.materials.channels import Channel
from pivrel.project.edits.aims import AimModel
from pivrel.recipe import DatumModel, PickModel, ProjectionModel, Triple
from pivrel.recipe.values import Degrees, Factor, Key, Pair
from pivrel.web.wire.base import Answer, Request


class FiguresState(Answer):
    """What is measured of a finish.

    joints_m: of edges at which the images differ, but the joints of both sides meet. closings: the scales along that
    whole repeats asked for.
    """

    laying_key: str
    true_share: float
    least_stretch: float
    greatest_stretch: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float
    joints_m: float
    worst_gap_mm: float
    closings: list[float]


class FiguresByFinish(RootModel[dict[str, FiguresState]]):
    """What is measured of every finish, by its code."""


class AdjustedSide(Answer):
    """Faces of a finish that lie otherwise than the rest. name: which way they look, and how large they are."""

    name: str
    faces: int


class AdjustedSides(Answer):
    """The adjustments of a finish by their names, and how cuts lie at the borders of its sides, in a sentence."""

    sides: list[AdjustedSide]
    cuts: str | None


class Totals(Answer):
    """What is measured of the whole schedule."""

    finishes: int
    area_m2: float
    bare_faces: int
    bare_m2: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float


class ChartState(Answer):
    """A side of a projection as a surface, in datum coordinates, as `core.projection.charts.Chart` has it."""

    shape: Shape
    origin: Triple
    along: Triple
    up: Triple
    out: Triple
    radius_mm: float
    along_mm: float


class LineState(Answer):
    """A line on the surface that a laying hangs on, in model coordinates (mm). name: a border, or "cut"."""

    name: str
    points: list[Triple]


class FrameState(Answer):
    """What the laying of one region hangs on, as `core.solve.solution.Frame` has it. veil: three corners a triangle."""

    form: str
    lines: list[LineState]
    corners: list[Triple]
    size_mm: tuple[float, float] | None
    veil: list[Triple]


class DatumDrawing(Answer):
    """What is drawn of a finish's datum. parts: how many datums there are; with more than one nothing is drawn.

    reach_mm: how far the pick extends. projection: with everything measured that was left open. frames: of a laying that
    follows the surface. troubles: why some of its faces could not be laid. tie_off_mm: by how much each tie is missed.
    """

    laying_key: str
    parts: int
    charts: list[ChartState]
    datum: DatumModel | None = None
    reach_mm: tuple[Triple, Triple] | None = None
    projection: ProjectionModel | None = None
    frames: tuple[FrameState, ...] = ()
    troubles: tuple[str, ...] = ()
    tie_off_mm: tuple[float, ...] = ()


class Roundness(Answer):
    """How well a pick fits a true cylinder, cone or sphere. share: of its area, how much lies on the shape."""

    residual_mm: float | None
    share: float
    radius_mm: float | None
    half_angle_deg: float
    datum: DatumModel


class SeveralLayings(Request):
    """Finishes whose layings are asked for at once, by their codes."""

    finishes: Annotated[list[Key], Field(max_length=100_000)]


class PlacementModel(Request):
    """How a sheet lies on the raw laying."""

    turn_deg: Degrees
    offset_mm: Pair
    scale: tuple[Factor, Factor]


class Preview(Request):
    """What of a finish is being dragged; the rest stays.

    placed: the turn, offset and scale by which its corners are asked for, where these are not its own.
    """

    datum: DatumModel | None = None
    projection: ProjectionModel | None = None
    placed: PlacementModel | None = None


class TrialRequest(Request):
    """A material on a pick, or the finish whose projection is in question.

    called: a name of the asker's own, by which it can ask how far the trials are.
    """

    called: Annotated[Key, Field(max_length=60)] | None = None
    pick: PickModel | None = None
    material: Key | None = None
    finish: Key | None = None
    aim: AimModel = AimModel()


class TrialsUnderWay(Answer):
    """Which projection is being tried, and how much of the trials is over (0 to 1); None before they begin."""

    projection: ProjectionModel | None
    share: float


class Trial(Answer):
    """One projection fitted to the pick, and how it came out. share: of the pick, what the fitted shape serves.

    alike: other projections that come out the same.
    """

    projection: ProjectionModel
    alike: list[ProjectionModel]
    datum: DatumModel | None
    good: float
    why: str
    true_share: float
    smeared_m2: float
    mirrored_m2: float
    seams_m: float
    joints_m: float
    area_m2: float
    residual_mm: float | None
    share: float


class TrialsHeader(Answer):
    """The trials, best first. good: how much has to read right to be recommended. advice: what would serve better."""

    trials: list[Trial]
    good: float
    advice: str | None


class SeamsHeader(Answer):
    """Where the pattern breaks within finishes, beside the lines. worst_at: from the view's origin."""

    length_m: float
    joints_m: float
    worst_gap_mm: float
    worst_at: Triple | None


class ChannelSeams(Answer):
    """Across how much of the edges within a finish each of its channels does not run on, in m."""

    edges_m: float
    broken_m: dict[Channel, float]


class StrokesHeader(Answer):
    """How far apart the strokes of the grain are."""

    spacing_mm: float


class FaceFigures(Answer):
    """The figures of one face; finish and what follows are None where it is bare."""

    face: int
    part: str
    area_m2: float
    finish: str | None = None
    name: str | None = None
    least_stretch: float | None = None
    greatest_stretch: float | None = None
    kind: Literal["true", "bare", "smeared", "mirrored"] | None = None


class CoverHeader(Answer):
    """The rows of single sheets, in the order of the schedule."""

    singles: list[int]


class GeometryHeader(Answer):
    """The names of the parts, and how many UV sets there are."""

    parts: list[str]
    uv_sets: int
