"""A border or crease of the model that a click means, as edits keep it."""

from __future__ import annotations

import numpy as np

from pivrel.core.geometry.edge_chains import chain_at
from pivrel.project.edits.aims import OnFace
from pivrel.project.edits.base import Before, EditError
from pivrel.recipe import Triple

MOST = 10_000


def chain_of(before: Before, edge: OnFace) -> tuple[Triple, ...]:
    """The places in mm along the border or crease nearest to a click. EditError where it has too many corners."""
    found = chain_at(before.surface, before.known_face(edge.face), np.array(edge.place))
    if len(found) > MOST:
        raise EditError(f"the edge has {len(found):,} corners; up to {MOST:,} can be followed")
    return tuple((float(x), float(y), float(z)) for x, y, z in np.round(found, 6))
