"""Files that go out stay within bounds and well-formed, whatever is in a label; what comes back is what went
out.
"""

from __future__ import annotations

import csv
import io
import stat
from pathlib import Path
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog
from crisp_cadence.core.geometry.figures import Drawing, Line, Words
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.exchange.drawer import read_drawer
from crisp_cadence.exchange.sheet import safe, sheet
from crisp_cadence.exchange.svg import MOST_SHEETS, pages, svg
from crisp_cadence.store import FILE_NAME, Store, drawer


def long(metres: float) -> Drawing:
    return Drawing("Long", (Line(0, 0, metres * 1000, 50, "BELT"),))


def test_print_at_full_size_is_refused_above_a_hundred_sheets() -> None:
    assert len(pages(long(20))) <= MOST_SHEETS
    with pytest.raises(EntryError) as caught:
        pages(Drawing("Sail", (Line(0, 0, 20_000, 20_000, "BELT"),)))
    (found,) = caught.value.problems
    assert (found.field, found.limit, found.unit) == ("what", "100", "sheets")
    assert int(found.value) > 5000
    assert "print shop" in found.remedy


def test_sheets_that_would_hold_too_much_are_refused_too() -> None:
    many = tuple(Line(i / 4, 0, i / 4, 900, "BELT") for i in range(16_000))
    with pytest.raises(EntryError) as caught:
        pages(Drawing("Comb", many))
    assert (caught.value.problems[0].limit, caught.value.problems[0].unit) == ("30", "MB")
    assert len(pages(Drawing("Comb", many[:900]))) > 5


@given(name=st.text(max_size=40), label=st.text(max_size=40))
def test_svg_is_well_formed_for_any_label(name: str, label: str) -> None:
    drawing = Drawing(name, (Line(0, 0, 10, 10, "BELT"), Words(1, 1, label, 3, "WORDS")))
    for text in (svg(drawing), *pages(drawing)):
        ElementTree.fromstring(text.encode("utf-8"))  # an outside reader of XML


@given(cells=st.lists(st.text(max_size=12), min_size=1, max_size=4))
def test_no_head_or_cell_begins_like_a_formula_or_hides_one(cells: list[str]) -> None:
    for row in csv.reader(io.StringIO(sheet(cells, [cells]), newline="")):
        for cell in row:
            assert cell[:1] not in ("=", "+", "-", "@")
            assert not cell or cell[0] >= " "


def test_heads_and_cells_come_back_without_the_quote() -> None:
    text = sheet(["kind", "name", "quantity", "=datum"], [["washer", "=Mine", 1, "-soft"]])
    ((_, entry),), troubles = read_drawer(text)
    assert troubles == []
    assert (entry.name, entry.data) == ("=Mine", {"=datum": "-soft"})
    assert safe("'plain") == "'plain"


@pytest.mark.parametrize("length", ["long", "inf", "-5", "", "0"])
def test_a_roll_without_a_length_is_an_error_of_its_row(length: str) -> None:
    entries, troubles = read_drawer(f"kind,name,quantity,length_mm\nroll,Odd,1,{length}\n")
    assert entries == []
    assert [(t.row, t.field) for t in troubles] == [(2, "length_mm")]


def test_a_roll_that_got_in_before_is_refused_where_it_is_cut(tmp_path: Path) -> None:
    store = Store(tmp_path)
    with store.transaction() as db:
        db.execute(
            "INSERT INTO stock (key, quantity, kind, name, data, source_kind, source) VALUES "
            "('own:1', 1, 'roll', 'Odd', '{\"length_mm\": \"long\"}', 'estimate', '')"
        )
    with pytest.raises(EntryError, match="is not a roll's length"):
        drawer.cut_roll(store, catalog.parts(), "own:1", 10.0)
    for data in ({"length_mm": "long"}, {"length_mm": float("inf")}, {}):
        with pytest.raises(EntryError, match="is not a roll's length"):
            drawer.add_own(store, "roll", "Odd", data, 1, None, "estimate", "")
    store.close()


def test_the_data_folder_and_file_are_the_owners_own(tmp_path: Path) -> None:
    store = Store(tmp_path / "data")
    modes = {p.name: stat.S_IMODE(p.stat().st_mode) for p in (tmp_path / "data").iterdir()}
    store.close()
    assert stat.S_IMODE((tmp_path / "data").stat().st_mode) == 0o700
    assert modes[FILE_NAME] == 0o600
    assert set(modes.values()) == {0o600}
