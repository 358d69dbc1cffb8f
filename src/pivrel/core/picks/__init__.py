"""Picks: rules that say which faces are meant, resolved on a surface and combined with each other."""

from pivrel.core.picks.combining import added, grown, inverted, removed, shared, shrunk
from pivrel.core.picks.largest import largest_patches
from pivrel.core.picks.resolving import as_faces, named, resolve
from pivrel.core.picks.rules import (
    LONG,
    NOTHING,
    All,
    AnyOf,
    ById,
    Elements,
    Every,
    FaceBits,
    Faces,
    Facing,
    Not,
    Parts,
    Patches,
    Pick,
    PickError,
    Sources,
    Storeys,
    by_ids,
    exactly,
    ids_of,
)

__all__ = [
    "LONG", "NOTHING", "All", "AnyOf", "ById", "Elements", "Every", "FaceBits", "Faces", "Facing", "Not", "Parts",
    "Patches", "Pick", "PickError", "Sources", "Storeys", "added", "as_faces", "by_ids", "exactly", "grown", "ids_of",
    "inverted", "largest_patches", "named", "removed", "resolve", "shared", "shrunk",
]  # fmt: skip
