"""Pick rules, and how they change."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pivrel.core import picks
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import (
    NOTHING,
    All,
    AnyOf,
    Every,
    Faces,
    Facing,
    Not,
    Parts,
    Patches,
    PickError,
    added,
    grown,
    inverted,
    removed,
    resolve,
)
from tests.shapes import cuboid, mesh_of, strips

CUBE = Surface(cuboid())


def ids(pick, surface=CUBE):
    return np.flatnonzero(resolve(pick, surface)).tolist()


def test_each_rule():
    assert ids(All()) == [0, 1, 2, 3, 4, 5]
    assert ids(Faces((5, 1))) == [1, 5]
    assert ids(Patches((3,))) == [3]
    assert ids(Facing((0, 0, 3), 1)) == [1]
    assert ids(Facing((0, 0, 1), 90)) == [1, 2, 3, 4, 5], "an angle counts its own border"
    assert ids(AnyOf((Faces((0,)), Faces((2,))))) == [0, 2]
    assert ids(Every((Facing((0, 0, 1), 91), Not(Faces((2,)))))) == [1, 3, 4, 5]
    assert ids(AnyOf(())) == []


def test_parts_by_globs_with_case():
    points = cuboid().points
    surface = Surface(
        mesh_of(
            points, [(0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4)], ("Wall south", "wall [2]", "Roof"), [0, 1, 2]
        )
    )
    assert ids(Parts(("Wall*",)), surface) == [0]
    assert ids(Parts(("[Ww]all*", "R?of")), surface) == [0, 1, 2]
    assert ids(Parts(("wall [[]2]",)), surface) == [1]


@pytest.mark.parametrize("pick", [Faces((6,)), Faces((-1,)), Patches((99,)), Facing((0, 0, 0), 3)])
def test_what_does_not_exist_is_said(pick):
    with pytest.raises(PickError):
        resolve(pick, CUBE)


rules = st.recursive(
    st.one_of(
        st.just(All()),
        st.lists(st.integers(0, 5), max_size=4).map(lambda i: Faces(tuple(i))),
        st.lists(st.integers(0, 5), max_size=4).map(lambda i: Patches(tuple(i))),
        st.just(Parts(("part",))),
        st.just(Facing((1, 0, 0), 50)),
    ),
    lambda inner: st.one_of(
        st.lists(inner, max_size=3).map(lambda p: AnyOf(tuple(p))),
        st.lists(inner, max_size=3).map(lambda p: Every(tuple(p))),
        inner.map(Not),
    ),
    max_leaves=6,
)


@given(rules, rules)
def test_changed_rules_hold_what_sets_would(a, b):
    one, other = resolve(a, CUBE), resolve(b, CUBE)
    assert (resolve(added(a, b), CUBE) == (one | other)).all()
    assert (resolve(removed(a, b), CUBE) == (one & ~other)).all()
    assert (resolve(inverted(a), CUBE) == ~one).all()


def test_rules_stay_short():
    assert added(Patches((1,)), Patches((4,))) == Patches((1, 4))
    assert added(AnyOf((Patches((1,)), Parts(("a",)))), Patches((2,))) == AnyOf(
        (Patches((1, 2)), Parts(("a",)))
    )
    assert removed(Patches((1, 2)), Patches((2,))) == Patches((1,))
    assert removed(Patches((2,)), Patches((2,))) == NOTHING
    assert inverted(inverted(Parts(("a",)))) == Parts(("a",))


def test_grow_takes_the_faces_across_an_edge():
    barrel = Surface(strips(10))
    mask = resolve(Faces((4,)), barrel)
    assert np.flatnonzero(grown(mask, barrel)).tolist() == [3, 4, 5]
    assert not grown(resolve(NOTHING, barrel), barrel).any()


@pytest.mark.parametrize("seed", range(6))
def test_long_picks_by_face_are_combined_as_sets_are(seed):
    rng = np.random.default_rng(seed)
    long, other = (
        set(rng.choice(9000, size, replace=False).tolist()) for size in (6000, (5, 5000)[seed % 2])
    )
    a, b = (picks.by_ids(np.array(sorted(ids))) for ids in (long, other))
    assert isinstance(a, picks.FaceBits)
    for combined, wanted in (
        (picks.added, long | other),
        (picks.removed, long - other),
        (picks.shared, long & other),
    ):
        assert combined(a, b) == picks.by_ids(np.array(sorted(wanted))), "as short as it can be"
    beyond = picks.Faces((3, 20_000))
    more = picks.by_ids(np.array([*sorted(long | {3}), 20_000]))
    assert picks.added(a, beyond) == more, "told when it is looked for, not before"
