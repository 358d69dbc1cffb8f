"""Everything that Pivrel uses may be used, and the page that says so is as it is now."""

from importlib.metadata import PathDistribution, distribution

import pytest
from tools import third_party
from tools.pins import DEV, USE, pinned, plain, stated
from tools.third_party import ALLOWED, ALLOWED_IN_TESTS, BY_NAME, Package, faults, is_among, shared_faults


def test_all_that_runs_or_ships_may_be_used():
    assert [*faults(third_party.of_python(pinned(USE)), ALLOWED)] == []
    assert [*faults(third_party.of_npm(), ALLOWED)] == []
    assert [*shared_faults(pinned(USE))] == []


def test_all_that_tests_need_may_be_used():
    assert [*faults(third_party.of_python(pinned(DEV)), ALLOWED_IN_TESTS)] == []


def test_what_is_allowed_by_name_is_used():
    used = {plain(name) for name in pinned(USE)} | {one.name for one in third_party.of_npm()}
    assert BY_NAME.keys() <= used


def test_the_page_is_as_it_is_now():
    assert third_party.PAGE.read_text() == third_party.page(), "run 'make third-party'"


@pytest.mark.parametrize(
    ("told", "licence"),
    [
        ("License-Expression: GPL-3.0-or-later", "GPL-3.0-or-later"),
        ("License: GPLv3", "GPLv3"),
        ("License: MIT AND AGPL-3.0-only", "MIT AND AGPL-3.0-only"),
        ("Classifier: License :: OSI Approved :: GNU General Public License v3 (GPLv3)", "GNU General Public License v3 (GPLv3)"),
        ("License: LGPL-2.1-or-later", "LGPL-2.1-or-later"),
        ("Summary: says nothing", "no licence that it states"),
    ],
)  # fmt: skip
def test_a_package_under_another_licence_is_found(tmp_path, monkeypatch, told, licence):
    """Put into the list of what runs as pip would install it."""
    folder = tmp_path / "copyleft-1.0.dist-info"
    folder.mkdir()
    (folder / "METADATA").write_text(f"Metadata-Version: 2.4\nName: copyleft\nVersion: 1.0\n{told}\n")
    monkeypatch.setattr(
        third_party,
        "distribution",
        lambda name: PathDistribution(folder) if name == "copyleft" else distribution(name),
    )
    names = [*pinned(USE), "copyleft"]
    assert [*faults(third_party.of_python(names), ALLOWED)] == [f"copyleft 1.0 is under {licence}"]


def test_a_shared_library_that_nobody_knows_is_found(monkeypatch):
    monkeypatch.setattr(
        third_party, "LIBRARIES", third_party.LIBRARIES | {"shapely": {"libgeos_c*": "GPL-3.0-only"}}
    )
    found = [*shared_faults(["shapely"])]
    assert any("brings libgeos-" in one and "does not tell" in one for one in found)
    assert any("brings libgeos_c-" in one and "is under GPL-3.0-only" in one for one in found)


@pytest.mark.parametrize(
    ("expression", "fine"),
    [
        ("MIT", True), ("MIT OR GPL-3.0-only", True), ("MIT AND GPL-3.0-only", False), ("(MIT OR GPL-2.0) AND BSD", True),
        ("Apache-2.0 WITH LLVM-exception", True), ("GPL-3.0-or-later WITH GCC-exception-3.1", False), ("", False),
        ("MIT and more words", False), ("LGPL-2.1-or-later", False),
    ],
)  # fmt: skip
def test_a_choice_of_licences_is_read(expression, fine):
    assert is_among(expression, ALLOWED) is fine
    assert bool([*faults([Package("x", "1", expression, "")], ALLOWED)]) is not fine


def test_what_is_pinned_fits_what_is_stated():
    """The ranges of `pyproject.toml` are the one truth; `make pins` writes the lists from them."""
    use, dev = (third_party.requirements(lines) for lines in stated())
    pins = {name: line.split("==")[1] for name, line in (pinned(USE) | pinned(DEV)).items()}
    for need in (*use, *dev):
        assert need.specifier.contains(pins[plain(need.name)]), need
    # Nothing is pinned that nobody needs, and nothing is needed that is not pinned.
    asked = set().union(*({plain(need.name)} | third_party.needs_of(need.name) for need in use))
    assert asked == pinned(USE).keys()
