"""Factors give back the memory that they took, whichever thread lets go of them."""

import threading

import numpy as np
import pytest
from scipy.sparse import csc_array, diags_array, kron
from scipy.sparse.linalg import spsolve

from pivrel.core.solve.factors import Factors
from pivrel.memory import give_back, resident

SIDE = 90


def plate(lift=0.01):
    """The five-point Laplacian of a plate, whose factors take some 4 MB."""
    line = diags_array(
        [np.full(SIDE - 1, -1.0), np.full(SIDE, 2 + lift), np.full(SIDE - 1, -1.0)], offsets=[-1, 0, 1]
    )
    own = diags_array(np.ones(SIDE))
    return csc_array(kron(line, own) + kron(own, line))


def in_a_thread(work):
    """What a thread of its own comes to."""
    out = []
    thread = threading.Thread(target=lambda: out.append(work()))
    thread.start()
    thread.join()
    return out.pop()


def test_factors_that_are_made_in_one_thread_and_let_go_of_in_another_leave_nothing():
    matrix = plate()
    in_a_thread(lambda: Factors(matrix))
    before = resident()
    for _ in range(40):
        # The reference that the thread had is gone; this one lets go.
        in_a_thread(lambda: Factors(matrix))
    Factors(matrix)
    give_back()
    assert resident() - before < 40 << 20


def test_factors_solve_as_a_library_does_and_from_any_thread():
    matrix, right = plate(), np.arange(SIDE * SIDE, dtype=float)
    factors = Factors(matrix)
    assert factors.solve(right) == pytest.approx(spsolve(matrix, right), rel=1e-9)
    assert in_a_thread(lambda: factors.solve(right)) == pytest.approx(factors.solve(right))


def test_a_singular_matrix_is_told_and_the_next_one_is_made():
    with pytest.raises(RuntimeError, match="singular"):
        Factors(csc_array((3, 3)))
    assert Factors(csc_array(np.eye(3))).solve(np.ones(3)).tolist() == [1, 1, 1]


def test_factors_take_no_more_than_their_entries():
    matrix = plate()
    Factors(matrix)
    before = resident()
    kept = [Factors(matrix) for _ in range(20)]
    give_back()
    stated = sum(one.nbytes for one in kept)
    assert 60 << 20 < stated < 100 << 20
    assert resident() - before < 1.3 * stated


def test_complex_factors_solve_complex_values():
    matrix = csc_array(plate() + 1j * diags_array(np.linspace(0, 1, SIDE * SIDE)))
    right = np.exp(1j * np.arange(SIDE * SIDE))
    assert Factors(matrix).solve(right) == pytest.approx(spsolve(matrix, right), rel=1e-9)


def test_values_that_are_not_as_many_as_unknowns_are_refused():
    with pytest.raises(ValueError, match="3 values for 8100 unknowns"):
        Factors(plate()).solve(np.ones(3))
