"""The drawer's own history: rows taken out and brought back, and a file taken in that is taken back as one
step.
"""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crisp_cadence import catalog
from crisp_cadence.core.ledger.errors import ConflictError, NotFoundError
from crisp_cadence.exchange.drawer import preview
from crisp_cadence.store import Store, drawer
from thorough import many

NOW = "2026-11-26T10:00:00.000+00:00"
PARTS = catalog.parts()
WASHER, NUT = "washer:washer-m5", "washer:washer-m3"
FILE = (
    "key,kind,name,quantity,price,thickness_mm\nwasher:washer-m5,washer,Washer "
    "M5,80,0.03,1.05\n,washer,Odd one,7,,0.7\n,washer,Other one,2,,0.9\n"
)


def shown(store: Store) -> dict[str, tuple[Any, ...]]:
    """Every row of the drawer as a maker sees it."""
    return {
        r.name: (r.kind, r.data, r.source_kind, r.source, r.quantity, r.price, r.own)
        for r in drawer.rows(store, PARTS)
    }


def take(store: Store, text: str = FILE) -> int:
    seen, todo = preview(text, drawer.every_row(store, PARTS))
    assert seen.troubles == ()
    drawer.take_in(store, PARTS, todo, seen.new, seen.changed, NOW)
    return drawer.intakes(store)[0].id


def key_of(store: Store, name: str) -> str:
    return next(r.key for r in drawer.every_row(store, PARTS) if r.name == name)


class TestRows:
    @pytest.mark.parametrize("own", [True, False])
    def test_out_and_back_with_quantity_price_and_data(self, store: Store, own: bool) -> None:
        key = (
            drawer.add_own(store, "washer", "Odd one", {"thickness_mm": 0.7}, 3, 0.1, "your entry", "")
            if own
            else WASHER
        )
        drawer.set_stock(store, PARTS, key, 1 if own else 0, 9, 0.2)
        before = shown(store)
        assert drawer.set_out(store, PARTS, [key], NOW) == 1
        assert set(before) - set(shown(store)) == {"Odd one" if own else "Washer M5"}
        assert [r.key for r in drawer.every_row(store, PARTS) if r.out] == [key]
        assert drawer.set_out(store, PARTS, [key], NOW) == 0, "it may be asked for again after a lost answer"
        assert drawer.set_out(store, PARTS, [key], None) == 1
        assert shown(store) == before
        assert drawer.set_out(store, PARTS, [key], None) == 0

    def test_a_row_of_the_catalogue_that_nobody_touched(self, store: Store) -> None:
        before = shown(store)
        drawer.set_out(store, PARTS, [WASHER], NOW)
        drawer.set_out(store, PARTS, [WASHER], None)
        assert shown(store) == before

    def test_all_of_them_or_none(self, store: Store) -> None:
        before = shown(store)
        with pytest.raises(NotFoundError):
            drawer.set_out(store, PARTS, [WASHER, "nobody:has-this"], NOW)
        assert shown(store) == before

    def test_another_window_that_still_shows_it_overwrites_nothing(self, store: Store) -> None:
        version = drawer.set_stock(store, PARTS, WASHER, 0, 5, None)
        drawer.set_out(store, PARTS, [WASHER], NOW)
        with pytest.raises(ConflictError):
            drawer.set_stock(store, PARTS, WASHER, version, 6, None)

    def test_a_file_brings_back_what_was_taken_out(self, store: Store) -> None:
        own = drawer.add_own(store, "washer", "Odd one", {"thickness_mm": 0.7}, 3, None, "your entry", "")
        drawer.set_out(store, PARTS, [own, WASHER], NOW)
        seen, _ = preview(FILE, drawer.every_row(store, PARTS))
        assert {c.name: "back into the drawer" in c.says for c in seen.changes} == {
            "Washer M5": True,
            "Odd one": True,
            "Other one": False,
        }
        step = take(store)
        assert key_of(store, "Odd one") == own, "known by its name, not a second one"
        assert shown(store)["Odd one"][4] == 7
        drawer.turn(store, PARTS, step, undone=True)
        assert {r.key for r in drawer.every_row(store, PARTS) if r.out} == {own, WASHER}, (
            "taken back, it is out again"
        )


class TestAFileAsOneStep:
    def test_taken_back_and_in_again(self, store: Store) -> None:
        drawer.set_stock(store, PARTS, WASHER, 0, 100, 0.02)
        before = shown(store)
        step = take(store)
        after = shown(store)
        assert set(after) - set(before) == {"Odd one", "Other one"}
        assert drawer.turn(store, PARTS, step, undone=True) == drawer.Turned(3, 0, ())
        assert shown(store) == before
        assert drawer.turn(store, PARTS, step, undone=True).rows == 0, (
            "it may be asked for again after a lost answer"
        )
        assert shown(store) == before
        assert drawer.intakes(store)[0].undone
        assert drawer.turn(store, PARTS, step, undone=False).rows == 3
        assert shown(store) == after

    def test_what_was_changed_since_stays_and_is_named(self, store: Store) -> None:
        step = take(store)
        odd = key_of(store, "Odd one")
        drawer.set_stock(store, PARTS, odd, 1, 6, None)
        turned = drawer.turn(store, PARTS, step, undone=True)
        assert (turned.rows, turned.kept, turned.kept_names) == (2, 1, ("Odd one",))
        assert shown(store)["Odd one"][4] == 6
        assert "Other one" not in shown(store)

    def test_a_window_that_read_before_overwrites_nothing(self, store: Store) -> None:
        step = take(store)
        version = next(r.version for r in drawer.rows(store, PARTS) if r.key == WASHER)
        drawer.turn(store, PARTS, step, undone=True)
        drawer.turn(store, PARTS, step, undone=False)
        with pytest.raises(ConflictError):
            drawer.set_stock(store, PARTS, WASHER, version, 1, None)

    def test_two_files_are_taken_back_in_either_order(self, store: Store) -> None:
        before = shown(store)
        first = take(store, "kind,name,quantity\nwasher,A,1\n")
        second = take(store, "kind,name,quantity\nwasher,A,5\nwasher,B,2\n")
        assert drawer.turn(store, PARTS, first, undone=True).kept_names == ("A",), (
            "the second file has changed it since"
        )
        drawer.turn(store, PARTS, second, undone=True)
        assert shown(store)["A"][4] == 1
        drawer.turn(store, PARTS, first, undone=False)
        drawer.turn(store, PARTS, second, undone=False)
        assert shown(store)["B"][4] == 2
        for step in (second, first):
            drawer.turn(store, PARTS, step, undone=True)
        assert "B" not in shown(store)
        assert set(shown(store)) - set(before) == {"A"}, (
            "it was changed between, so the first file no longer owns it"
        )

    def test_the_last_twenty_are_kept(self, store: Store) -> None:
        first = take(store)
        for n in range(drawer.MOST_INTAKES):
            take(store, f"kind,name,quantity\nwasher,N{n},1\n")
        assert len(drawer.intakes(store)) == drawer.MOST_INTAKES
        with pytest.raises(NotFoundError, match="not among those taken in last"):
            drawer.turn(store, PARTS, first, undone=True)

    def test_thousands_of_rows(self, store: Store) -> None:
        before = shown(store)
        step = take(store, "kind,name,quantity\n" + "".join(f"washer,N{n},1\n" for n in range(20_000)))
        assert len(shown(store)) == len(before) + 20_000
        assert drawer.turn(store, PARTS, step, undone=True).rows == 20_000
        assert shown(store) == before


ROWS = st.lists(
    st.tuples(st.sampled_from([WASHER, NUT, "", ""]), st.sampled_from("ABC"), st.integers(0, 9)),
    min_size=1,
    max_size=4,
    unique_by=lambda r: r[0] or r[1],
)


@given(rows=ROWS, stock=st.integers(0, 5), out=st.booleans())
@settings(max_examples=many(25, 500))
def test_whatever_a_file_does_is_undone_exactly(
    tmp_path_factory: pytest.TempPathFactory, rows: list[tuple[str, str, int]], stock: int, out: bool
) -> None:
    store = Store(tmp_path_factory.mktemp("steps"))
    try:
        drawer.set_stock(store, PARTS, WASHER, 0, stock, None)
        drawer.set_out(store, PARTS, [NUT], NOW if out else None)
        take(store, "kind,name,quantity\nwasher,A,3\n")
        before = shown(store)
        text = "key,kind,name,quantity\n" + "".join(
            f"{key},washer,{PARTS[key].name if key else name},{count}\n" for key, name, count in rows
        )
        seen, todo = preview(text, drawer.every_row(store, PARTS))
        assert seen.troubles == ()
        if todo:
            step = take(store, text)
            after = shown(store)
            drawer.turn(store, PARTS, step, undone=True)
            assert shown(store) == before
            drawer.turn(store, PARTS, step, undone=False)
            assert shown(store) == after
    finally:
        store.close()
