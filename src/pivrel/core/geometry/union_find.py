"""Sets that are joined pair by pair, each member either alike with its root or against it.

The union-find forest with path halving (R. E. Tarjan and J. van Leeuwen, "Worst-case analysis of set union
algorithms", Journal of the ACM 31(2), 1984).
"""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.kernels import kernel


@kernel
def root_of(parent: Ints, odd: Mask, member: int) -> tuple[int, bool]:
    """The root of a member and whether the member is against it; halves the way for the next time.

    parent: (N,) of each member, itself for a root. odd: (N,) whether a member is against its parent.
    """
    against = False
    while parent[member] != member:
        above = parent[member]
        if parent[above] != above:
            odd[member] = odd[member] != odd[above]
            parent[member] = parent[above]
        against = against != odd[member]
        member = parent[member]
    return member, against


@kernel
def join(parent: Ints, odd: Mask, a: int, b: int, alike: bool) -> None:
    """Puts the sets of two members together; the lower root stays root, so that sets keep their order."""
    i, a_against = root_of(parent, odd, a)
    j, b_against = root_of(parent, odd, b)
    if i != j:
        low, high = min(i, j), max(i, j)
        parent[high] = low
        odd[high] = (a_against != b_against) != (not alike)


@kernel
def numbered(parent: Ints, odd: Mask) -> tuple[Ints, Mask]:
    """(N,) the set of each member, numbered by their first members, and whether it is against its root."""
    count = len(parent)
    number, against = np.empty(count, np.int32), np.empty(count, np.bool_)
    sets = 0
    for member in range(count):
        root, is_odd = root_of(parent, odd, member)
        if root == member:
            number[member] = sets
            sets += 1
        else:
            number[member] = number[root]
        against[member] = is_odd
    return number, against
