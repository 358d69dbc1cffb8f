"""Camera: the sheet is thrown onto the model from one place, and looks from there as it does on the sheet."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.geometry.surface import Surface
from pivrel.core.projection.base import Solved
from pivrel.core.projection.charts import Triple
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.solution import Frame, Solution

NEAREST = 0.002
"""A corner nearer to the plane of the eye than this share of the farthest corner's distance counts as behind it."""


@dataclass(frozen=True)
class Camera(Solved):
    """In eye coordinates, x right, y up, depth d ahead: s = x D / d, t = y D / d.

    at_mm: D, the distance at which the sheet has its size; None takes the distance of the middle of the picked faces.
    """

    eye_mm: Triple = (0.0, -5000.0, 1600.0)
    target_mm: Triple = (0.0, 0.0, 0.0)
    up: Triple = (0.0, 0.0, 1.0)
    at_mm: float | None = None
    kind: ClassVar[str] = "camera"

    @classmethod
    def tried(cls) -> tuple[Camera, ...]:
        # From where is for the artist to say.
        return ()

    @property
    def looking(self) -> Floats:
        """(3, 3) unit rows: right, up and ahead. FrameError where the camera looks nowhere, or along its own up."""
        ahead = np.subtract(self.target_mm, self.eye_mm)
        right = np.cross(ahead, self.up)
        size = float(np.linalg.norm(ahead)) * float(np.linalg.norm(self.up))
        if np.linalg.norm(right) <= 1e-9 * max(size, 1e-300):
            raise FrameError("a camera must look somewhere, and not along its own up")
        ahead = ahead / np.linalg.norm(ahead)
        right = right / np.linalg.norm(right)
        return np.stack([right, np.cross(right, ahead), ahead])

    def in_eye(self, points: Floats) -> Floats:
        """(N, 3) x, y and depth in mm of places (N, 3)."""
        out: Floats = (points - np.asarray(self.eye_mm)) @ self.looking.T
        return out

    def distance(self, surface: Surface, faces: Ints) -> float:
        """D in mm, measured off the faces (int32) where it is not stated."""
        if self.at_mm is not None:
            return self.at_mm
        areas = surface.face_areas[faces]
        middle = areas @ surface.centroids[faces] / max(float(areas.sum()), 1e-300)
        depth = float(self.in_eye(middle[None])[0, 2])
        return depth if depth > 0 else float(np.linalg.norm(np.subtract(self.target_mm, self.eye_mm)))

    def off_within(self, surface: Surface, faces: Ints) -> float:
        """mm on the sheet by which a straight line between corners misses the throw, at most; faces: int32 ids before it."""
        own = surface.triangles[surface.held(faces)[surface.triangle_face]]
        if not len(own):
            return 0.0
        eye = self.in_eye(surface.mesh.points[surface.mesh.corners[own]].reshape(-1, 3)).reshape(-1, 3, 3)
        half = (eye + eye[:, [1, 2, 0]]) / 2
        flat, true = (at[:, :, :2] / at[:, :, 2:] * self.distance(surface, faces) for at in (eye, half))
        return float(np.abs(true - (flat + flat[:, [1, 2, 0]]) / 2).max())

    def settled(self, surface: Surface, faces: Ints, datum: Datum, repeat_mm: tuple[float, float]) -> Camera:
        """With the distance measured off the faces that are laid."""
        return replace(self, at_mm=self.distance(surface, faces))

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        surface, faces = ground.surface, ground.faces
        mesh = surface.mesh
        eye = self.in_eye(mesh.points[mesh.corners[surface.corners_of(faces)]])
        rows = corner_rows(mesh, faces)
        depth = np.minimum.reduceat(eye[:, 2], rows[:-1]) if len(faces) else np.empty(0)
        before = depth > NEAREST * max(float(eye[:, 2].max(initial=0.0)), 1e-9)
        distance = self.distance(surface, faces[before])
        own = np.repeat(before, np.diff(rows))
        behind = int((~before).sum())
        trouble = (
            f"{behind:,} {'face lies' if behind == 1 else 'faces lie'} behind the camera, or reach behind it"
        )
        return Solution(
            faces=faces[before],
            st=eye[own, :2] * (distance / eye[own, 2])[:, None],
            cuts=np.empty(0, np.int32),
            troubles=(trouble,) if behind else (),
            frames=(Frame("camera", (), np.empty((0, 3)), None),),
        )
