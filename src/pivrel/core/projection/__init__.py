"""The kinds of projection. Adding one means adding a module and a line here.

Each is a frozen class of its parameters with `settled`, which fills in what is measured off the
model, and `lay`, which reads like its section of the laying contract.
"""

from pivrel.core.projection.box import Box
from pivrel.core.projection.cylindrical import Cylindrical
from pivrel.core.projection.planar import Planar
from pivrel.core.projection.spherical import Spherical
from pivrel.core.projection.triplanar import Triplanar

Projection = Planar | Box | Cylindrical | Spherical | Triplanar

PROJECTIONS: dict[str, type[Projection]] = {
    kind.kind: kind for kind in (Planar, Box, Cylindrical, Spherical, Triplanar)
}

__all__ = ["PROJECTIONS", "Box", "Cylindrical", "Planar", "Projection", "Spherical", "Triplanar"]
