"""Text from people as a cell of a table: it stands there as it reads, and no program computes it."""

import csv
import io
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pivrel.core.plain_text import printable
from pivrel.formats.cells import LONGEST, cell_text

COMPUTED = ["=1+1", "+cmd|' /C calc'!A0", "-2+3", "@SUM(A1)", "\t=1", "\r=1", "  =1", "\uff1d1+1", "\n@x"]


@pytest.mark.parametrize("text", COMPUTED)
def test_no_program_computes_a_name(text):
    """The beginnings that OWASP lists ("CSV Injection"), after blanks and control characters too."""
    assert cell_text(text).startswith("'")


@pytest.mark.parametrize("text", ["", "Oak 20 x 120", "50 % grey", "3-layer", "a=b", "Größe", "5'6\""])
def test_plain_names_stay_as_they_are(text):
    assert cell_text(text) == text


@given(st.text(max_size=60))
def test_a_cell_is_one_line_that_every_table_and_xml_holds(text):
    told = cell_text(text)
    out = io.StringIO()
    csv.writer(out).writerow(["a", told, "b"])
    assert (
        next(csv.reader(io.StringIO(out.getvalue()))) == ["a", told, "b"] and out.getvalue().count("\n") == 1
    )
    assert ElementTree.fromstring(ElementTree.tostring(_cell(told))).text in (told, told or None)
    assert printable(told) == told


def _cell(text):
    cell = ElementTree.Element("c")
    cell.text = text
    return cell


def test_a_long_text_is_cut_where_cells_end():
    assert len(cell_text("=" + "x" * 40_000)) == LONGEST
