"""What every kind of projection is: its parameters, and the rules that follow from them."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import ClassVar, Self

import numpy as np

from pivrel.core.arrays import Floats, Ints, Precision
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.charts import Chart
from pivrel.core.projection.fitting import Aim, Fit
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import Solution


class Projection(ABC):
    """A kind of projection with its parameters, as a frozen dataclass.

    blends: whether several layings are mixed at every point, so that no one sheet lies on a face.
    takes_box: whether it can be fitted to a tightest box; what cannot is fitted to the pick.
    is_round: whether its datum is fitted to a true round shape, which a pick may be more or less.
    has_datum: whether it measures from a datum; what has none is not fitted.
    tried: what a trial of all projections lays of this kind.
    cost: on so much more of the area it has to read right in a trial than what comes before it.
    """

    kind: ClassVar[str]
    has_datum: ClassVar[bool] = True
    blends: ClassVar[bool] = False
    takes_box: ClassVar[bool] = False
    is_round: ClassVar[bool] = False
    cost: ClassVar[float] = 0.0

    @classmethod
    def tried(cls) -> Sequence[Self]:
        """The settings of this kind that a trial compares."""
        return (cls(),)

    @abstractmethod
    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        """The datum that it takes on these faces (int32 ids, at least one). FitError where the aim has no sense."""

    def fits_like(self, other: Projection) -> bool:
        """Whether another projection takes the datum that is fitted for this one."""
        return type(self) is type(other)

    def settled(self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]) -> Self:
        """With everything measured off the faces (int32 ids) that was left open."""
        return self

    def sides(self, surface: Surface, faces: Ints, datum: Datum) -> Ints:
        """(len(faces),) int8 the side of the projection that each face is laid by, counted from 0."""
        return np.zeros(len(faces), np.int8)

    def axes(self, surface: Surface, faces: Ints, datum: Datum) -> Ints | None:
        """(len(faces),) int8: 0, 1 or 2, the sheet that each face takes where there is one for every axis."""
        return None

    @property
    def closes(self) -> bool:
        """Whether it is scaled so that whole repeats of the material close."""
        return False

    def closings(self) -> tuple[float, ...]:
        """The factors by which a settled projection scales along, so that whole repeats close."""
        return ()

    def off_within(self, surface: Surface, faces: Ints) -> float:
        """mm on the sheet by which a straight line between the corners of these faces (int32) misses the laying, at most."""
        return 0.0

    def charts(self, bounds: Floats) -> list[Chart]:
        """The sides of a settled projection as surfaces, for drawing; bounds (2, 3) of the pick, from `reach`."""
        return []

    def serves(self, found: Fit) -> tuple[float, str] | None:
        """For a pick that no projection lays well: the share of it that this one would serve, and that in words."""
        return None

    def caveat(self, found: Fit) -> str | None:
        """What a trial says of how it lies on the pick, in words."""
        return None


class ClosedForm(Projection):
    """A projection that says where a corner lies from the corner's own place and its face's normal alone."""

    @abstractmethod
    def lay(
        self, surface: Surface, faces: Ints, datum: Datum, sheet: Floats, dtype: Precision = np.float64
    ) -> Floats:
        """(K, 2) mm for the corners of `faces` (int32, ascending), face after face; sheet (2, 3) raw to final."""


class Solved(Projection):
    """A projection whose laying is solved over a region; final coordinates follow from it as from any other."""

    has_datum: ClassVar[bool] = False
    cost: ClassVar[float] = 0.03

    def fit(self, surface: Surface, faces: Ints, aim: Aim) -> Fit:
        return Fit(Datum())

    @abstractmethod
    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        """The raw laying of the ground's faces. hasty: near enough while a hand drags something, and at once.

        It depends on nothing but them and the parameters, and on the material's repeat only where the projection closes.
        """
