"""The kinds of projection. Adding one means adding a module and a line here."""

from pivrel.core.projection.box import Box
from pivrel.core.projection.planar import Planar

Projection = Planar | Box

PROJECTIONS: dict[str, type[Planar] | type[Box]] = {kind.kind: kind for kind in (Planar, Box)}

__all__ = ["PROJECTIONS", "Box", "Planar", "Projection"]
