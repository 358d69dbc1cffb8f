"""The mutation run: what a fault is, where it is once lines have moved, and what a run of tests says of it."""

from __future__ import annotations

import pytest
from tools.mutants import outcome_of
from tools.mutations import Fault, faults_of

TEXT = (
    "def area(a, b):\n    return a * b\n\n\ndef least(rows):\n    return min(rows) if len(rows) > 2 else -1\n"
)


def test_faults_are_one_line_each_and_none_is_the_text_itself(tmp_path):
    path = tmp_path / "areas.py"
    path.write_text(TEXT)
    found = {fault.after.strip() for fault in faults_of(path, "areas.py")}
    assert {"return a / b", "return max(rows) if len(rows) > 2 else -1"} <= found
    assert {
        "return min(rows) if len(rows) >= 2 else -1",
        "return min(rows) if len(rows) > 3 else -1",
    } <= found
    assert "return a * b" not in found and "return min(rows) if len(rows) > 2 else 1" in found


def test_a_fault_is_put_where_its_line_has_moved_to():
    fault = Fault("areas.py", 2, "    return a * b", "    return a / b")
    assert fault.put_into(TEXT) == TEXT.replace("*", "/")
    moved = fault.within("import math\n\n" + TEXT)
    assert moved is not None and moved.line == 4
    assert moved.put_into("import math\n\n" + TEXT).splitlines()[3] == fault.after
    assert fault.within(TEXT.replace("a * b", "b * a")) is None, "rewritten"


@pytest.mark.parametrize(
    ("code", "said", "outcome"),
    [
        (0, "3 passed", "alive"),
        (1, "FAILED tests/test_a.py::test_b", "found"),
        (2, "ERROR tests/test_a.py - ImportError", "found"),
        (-11, "", "found"),
        (None, "", "over time"),
        (4, "ERROR: not found: tests/test_a.py::test_gone", "error"),
        (5, "no tests ran", "error"),
    ],
)
def test_what_a_run_of_tests_says_of_a_fault(code, said, outcome):
    assert outcome_of(code, said) == outcome
