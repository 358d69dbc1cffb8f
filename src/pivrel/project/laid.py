"""A project's documents as a laid schedule."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.picks import as_faces, resolve
from pivrel.core.projection import BEST, Aim, Fit, fit
from pivrel.core.schedule import Rows, Schedule
from pivrel.core.sheet import Material
from pivrel.formats.laid import AxisLooks, LaidModel, Look, lay_model
from pivrel.materials.images import Image
from pivrel.project.computing import Computing
from pivrel.recipe import FinishModel, SheetModel
from pivrel.store.documents import Contents, Document, MaterialBody


def mesh_bytes(mesh: Mesh) -> int:
    """Roughly what a mesh and all that is derived from it take in memory."""
    return mesh.points.nbytes * 2 + mesh.corner_count * 80 + mesh.face_count * 60


def surface_of(
    computing: Computing, sha256: str, load: Callable[[], Mesh], owner: str | None = None
) -> Surface:
    """The surface of a stored mesh. owner: the project whose model it is, of which the last few are kept."""
    return computing.get("surfaces", sha256, lambda: Surface(load()), lambda s: mesh_bytes(s.mesh), owner)


def fit_of(computing: Computing, surface: Surface, stated: FinishModel, aim: Aim = BEST) -> Fit:
    """A fit to the pick and projection of a finish, with how well it does."""
    with computing.lane_for(len(surface.triangles)):
        faces = as_faces(resolve(stated.core_pick, surface))
        return fit(surface, faces, stated.projection.to_core(), aim)


def sheet_of(body: MaterialBody) -> Material:
    """A material of a project or of the library as the core knows it."""
    return SheetModel.model_validate(
        {name: getattr(body, name) for name in SheetModel.model_fields}
    ).to_core()


class _Last:
    """The documents of a model that were laid last and the finishes that they made: both at once, for several threads."""

    both: tuple[Contents, Rows] = Contents(), Rows()


@dataclass(frozen=True)
class LaidProject:
    """The documents of one revision of a project, and its finishes laid on its surface. owner: the project."""

    mesh: str
    surface: Surface
    contents: Contents
    computing: Computing
    owner: str = ""
    schedule: Schedule = field(init=False)
    """The finishes, laid."""

    def __post_init__(self) -> None:
        # Not a cached_property: Python 3.11 makes those of all instances under one lock, and this waits for its turn.
        last = self.computing.get("made", self.mesh, _Last, lambda _: 1)
        (before, made), now = last.both, self.contents
        # What is the very same document made the very same finish, as long as no material has changed.
        same = len(before.materials) == len(now.materials) and all(
            before.materials.get(key) is document for key, document in now.materials.items()
        )
        was = before.finishes if same else {}
        finishes = (
            made
            if same and was == now.finishes and list(was) == list(now.finishes)
            else Rows(
                (key, made[key] if was.get(key) is document else self._core_finish(document))
                for key, document in now.finishes.items()
            )
        )
        last.both = now, finishes
        schedule = Schedule(self.surface, self.mesh, finishes, self.computing, owner=self.owner)
        object.__setattr__(self, "schedule", schedule)

    def with_contents(self, contents: Contents) -> LaidProject:
        """The same model with other documents."""
        if contents is self.contents:
            return self
        return LaidProject(self.mesh, self.surface, contents, self.computing, self.owner)

    @property
    def whose(self) -> str:
        """What a few versions are kept of each row by."""
        return self.owner or self.mesh

    @property
    def keys(self) -> list[str]:
        """The finishes' codes in the order of the schedule."""
        return self.schedule.keys

    def _core_finish(self, document: Document[FinishModel]) -> Finish:
        """A finish as the core knows it; the same one as long as it and its materials stay as they are."""
        named = [self.contents.materials[key] for key in document.body.material_ids]
        unread = self.contents.unread(document.key)
        return self.computing.get(
            "finishes",
            (document.text, *((m.key, m.text) for m in named)),
            lambda: replace(document.body.to_core(self.material), unread=unread),
            lambda _: 2 * len(document.text) + 4000,
            f"finish {document.key} {self.whose}",
        )

    def material(self, key: str) -> Material:
        """A material of the project as the core knows it."""
        return sheet_of(self.contents.materials[key].body)

    def stated(self, key: str) -> FinishModel:
        """A finish as the recipe states it."""
        return self.contents.finishes[key].body

    def finish(self, key: str) -> Finish:
        """A finish as the core knows it."""
        return self.schedule.finishes[key]

    def as_written(
        self,
        looks: Mapping[str, Look],
        images: Mapping[str, Image] | None = None,
        image_names: Mapping[str, str] | None = None,
    ) -> LaidModel:
        """Everything laid as files hold it; looks by material, images of the source materials by hash."""
        return lay_model(self.schedule, self.axis_looks(looks), images, image_names)

    def axis_looks(self, looks: Mapping[str, Look]) -> list[AxisLooks]:
        """How each finish looks along each axis, of how each material does."""
        return [self.stated(key).for_axes(looks) for key in self.keys]
