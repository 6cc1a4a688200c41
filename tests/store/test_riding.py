"""Axes that ride on axes: no circle, no load that locks a door, one limit, and nothing that is read stops the
rest.
"""

from __future__ import annotations

import json
from typing import Any

import pytest

from conftest import build
from crisp_cadence.core.design.design import design_from
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.design.riding import as_load
from crisp_cadence.core.fields.axis import MOST_RIDING
from crisp_cadence.core.ledger.errors import EntryError, NotFoundError, TooLargeError
from crisp_cadence.core.machine.design import MOST_AXES
from crisp_cadence.store import Store, axes, log

NOW = "2026-11-24T10:00:00.000+00:00"


@pytest.fixture
def machine(store: Store) -> str:
    return axes.add_machine(store, "Printer", "", NOW)


def axis(store: Store, machine: str, name: str, on: str | None = None, **fields: Any) -> str:
    new = axes.add_axis(store, machine, build(name=name, **fields), NOW)
    if on:
        axes.set_rides_on(store, new, on)
    return new


def stored_as(store: Store, axis_id: str, text: str) -> None:
    """What an older or newer program, or a hand, may have put into the file."""
    with store.transaction() as db:
        db.execute("UPDATE revision SET design = ? WHERE axis_id = ?", (text, axis_id))


def ride(store: Store, axis_id: str, mount: str | None) -> None:
    """As a file of an earlier program may have it: without any check."""
    with store.transaction() as db:
        db.execute("UPDATE axis SET rides_on = ? WHERE id = ?", (mount, axis_id))


class TestLoads:
    def test_a_rider_heavier_than_one_entry_may_be_is_counted_as_several(
        self, store: Store, machine: str
    ) -> None:
        """Two of 1500 kg made a load of 3000 kg, past the limit of 2000 kg, and no axis of the machine could
        be read any more.
        """
        low = axis(store, machine, "Frame")
        axis(store, machine, "Anvil", low, moving=[{"label": "Block", "mass_kg": 1500.0, "quantity": 2}])
        here = axes.get_axis(store, low)
        assert here.problems == ()
        assert [(m.mass_kg, m.quantity) for m in here.whole().riding] == [(1500.0, 2)]
        assert axes.save(store, low, 1, here.whole().model_copy(update={"note": "saves too"}), NOW) == 2

    def test_a_rider_beyond_any_load_is_named_and_not_left_out_in_silence(
        self, store: Store, machine: str
    ) -> None:
        low = axis(store, machine, "Frame")
        axis(
            store,
            machine,
            "Mountain",
            low,
            moving=[
                {"label": "Rock", "mass_kg": 2000.0, "quantity": 1000},
                {"label": "Pebble", "mass_kg": 1.0},
            ],
        )
        here = axes.get_axis(store, low)
        assert here.design is not None
        (found,) = here.problems
        assert (found.field, found.limit, found.unit) == ("riding", "2000000", "kg")
        assert found.message == "cannot be counted: “Mountain” is heavier than any load that is counted"

    @pytest.mark.parametrize("mass", ['"heavy"', "true", "[1]"])
    def test_an_unknown_stage_with_no_number_for_a_mass(self, store: Store, machine: str, mass: str) -> None:
        low, high = axis(store, machine, "Frame"), axis(store, machine, "Odd")
        axes.set_rides_on(store, high, low)
        design = build(name="Odd").model_dump(mode="json")
        design["chain"].append({"kind": "harmonic drive", "mass_kg": "?"})
        stored_as(store, high, json.dumps(design).replace('"?"', mass))
        assert axes.get_axis(store, high).design is not None, "it can be opened"
        (found,) = axes.get_axis(store, low).problems
        assert "“Odd” is not a mass that could be counted" in found.message

    def test_a_rider_that_cannot_be_read_is_a_problem_of_what_carries_it_down_to_the_ground(
        self, store: Store, machine: str
    ) -> None:
        low = axis(store, machine, "Frame")
        mid = axis(store, machine, "Beam", low)
        top = axis(store, machine, "Head", mid)
        stored_as(store, top, "{}")
        assert "rides on this axis and cannot be read" in axes.get_axis(store, mid).problems[0].message
        assert (
            "“Beam” rides on this axis and cannot be worked out"
            in axes.get_axis(store, low).problems[0].message
        )

    def test_a_whole_stack_is_counted_to_the_ground(self, store: Store, machine: str) -> None:
        under = axis(store, machine, "0", moving=[{"mass_kg": 1.0}])
        lowest = under
        for n in range(1, MOST_AXES):
            under = axis(store, machine, str(n), under, moving=[{"mass_kg": 1.0}])
        assert axes.get_axis(store, lowest).whole().riding[0].mass_kg == MOST_AXES - 1.0


class TestCircles:
    def test_are_refused_at_mounting_whoever_comes_second(self, store: Store, machine: str) -> None:
        a, b = axis(store, machine, "A"), axis(store, machine, "B")
        axes.set_rides_on(store, a, b)
        with pytest.raises(EntryError, match="rides on it itself"):
            axes.set_rides_on(store, b, a)
        with pytest.raises(EntryError, match="rides on it itself"):
            axes.set_rides_on(store, a, a)

    def test_cannot_be_made_by_taking_off_and_putting_back(self, store: Store, machine: str) -> None:
        a, b = axis(store, machine, "A"), axis(store, machine, "B")
        axes.set_rides_on(store, a, b)
        axes.remove_axis(store, a, NOW)
        axes.set_rides_on(store, b, None)
        c = axis(store, machine, "C", b)
        assert axes.put_axis_back(store, a) == b, "nothing speaks against it"
        axes.remove_axis(store, a, NOW)
        ride(store, b, a)
        assert axes.put_axis_back(store, a) is None, "what it rode on rides on it by now"
        assert axes.get_axis(store, a).rides_on is None
        assert axes.get_axis(store, c).problems == ()

    def test_an_axis_whose_mount_has_gone_comes_back_on_its_own(self, store: Store, machine: str) -> None:
        low = axis(store, machine, "Low")
        high = axis(store, machine, "High", low)
        axes.remove_axis(store, high, NOW)
        axes.remove_axis(store, low, NOW)
        assert axes.put_axis_back(store, high) is None
        assert axes.get_axis(store, high).rides_on is None

    def test_in_a_file_that_has_one_end_every_walk_and_can_be_undone(
        self, store: Store, machine: str
    ) -> None:
        a, b, c = (axis(store, machine, n) for n in "ABC")
        ride(store, a, b)
        ride(store, b, c)
        ride(store, c, a)
        d = axis(store, machine, "D")
        ride(store, d, a)
        for one in (a, b, c):
            (found,) = axes.get_axis(store, one).problems
            assert found.field == "rides_on"
            assert axes.get_axis(store, one).design is not None
        assert axes.get_axis(store, d).problems == ()
        assert [n for _, n in axes.neighbours(store, a)] == [], "everything rides on everything"
        axes.set_rides_on(store, a, None)
        assert axes.get_axis(store, b).problems == ()
        assert [m.label for m in axes.get_axis(store, c).whole().riding] == ["B"]


class TestOneLimit:
    def test_at_mounting(self, store: Store, machine: str) -> None:
        low = axis(
            store, machine, "Low", riding=[{"label": f"L{n}", "mass_kg": 0.1} for n in range(MOST_RIDING - 1)]
        )
        axis(store, machine, "One", low)
        with pytest.raises(EntryError) as caught:
            axis(store, machine, "Too many", low)
        (found,) = caught.value.problems
        assert (found.field, found.value, found.limit) == ("riding", "61", "60")
        assert found.message == "would be too many: loads entered by hand (59) and axes that ride on it (2)"

    def test_at_saving(self, store: Store, machine: str) -> None:
        low = axis(store, machine, "Low")
        axis(store, machine, "One", low)
        full = build(name="Low", riding=[{"label": f"L{n}", "mass_kg": 0.1} for n in range(MOST_RIDING)])
        with pytest.raises(EntryError, match=r"loads entered by hand \(60\) and axes that ride on it \(1\)"):
            axes.save(store, low, 1, full, NOW)

    def test_at_putting_back(self, store: Store, machine: str) -> None:
        low = axis(
            store, machine, "Low", riding=[{"label": f"L{n}", "mass_kg": 0.1} for n in range(MOST_RIDING - 1)]
        )
        first = axis(store, machine, "First", low)
        axes.remove_axis(store, first, NOW)
        axis(store, machine, "Second", low)
        assert axes.put_axis_back(store, first) is None


class TestWhatWasTakenOff:
    def test_takes_no_saves_entries_or_riders(self, store: Store, machine: str) -> None:
        one, two = axis(store, machine, "One"), axis(store, machine, "Two")
        axes.set_machine_removed(store, machine, NOW)
        for refused in (
            lambda: axes.save(store, one, 1, build(name="Late"), NOW),
            lambda: log.add(store, one, "2026-01-01", "note", "x", None, None, NOW),
            lambda: axes.set_rides_on(store, one, two),
            lambda: axes.add_axis(store, machine, build(), NOW),
        ):
            with pytest.raises(NotFoundError, match="is not on the shelf"):
                refused()
        axes.set_machine_removed(store, machine, None)
        assert axes.save(store, one, 1, build(name="Late"), NOW) == 2


class TestWhatCannotBeRead:
    @pytest.mark.parametrize(
        ("text", "field"),
        [
            ("{}", "chain"),
            ("[1]", "design"),
            ("not even JSON", "design"),
            ('{"version": 9}', "version"),
            ('{"format": "x"}', "format"),
            ('{"name": 3}', "name"),
            ("", "design"),
        ],
    )
    def test_is_opened_as_far_as_it_goes(self, store: Store, machine: str, text: str, field: str) -> None:
        here = axis(store, machine, "Odd")
        other = axis(store, machine, "Even")
        stored_as(store, here, text)
        found = axes.get_axis(store, here)
        assert (found.design, found.text) == (None, text)
        assert field in [p.field for p in found.problems]
        with pytest.raises(EntryError):
            found.whole()
        assert axes.neighbours(store, other) == [(here, "Nameless")]
        assert [r.number for r in axes.revisions(store, here)] == [1]
        axes.remove_axis(store, here, NOW)

    def test_can_go_back_to_an_earlier_revision(self, store: Store, machine: str) -> None:
        here = axis(store, machine, "Once good")
        axes.save(store, here, 1, build(name="Newer"), NOW)
        with store.transaction() as db:
            db.execute("UPDATE revision SET design = '{}' WHERE axis_id = ? AND number = 2", (here,))
        axes.save(store, here, 2, axes.revision_design(store, here, 1), NOW, "back to revision 1")
        assert axes.get_axis(store, here).whole().name == "Once good"

    def test_nothing_is_stored_that_could_not_be_read_again(self, store: Store, machine: str) -> None:
        here = axis(store, machine, "Long")
        with pytest.raises(TooLargeError, match="more than the 1,000,000 bytes"):
            axes.save(
                store, here, 1, design_from({**build().model_dump(mode="json"), "x": "y" * 1_000_000}), NOW
            )


def test_a_load_is_the_same_however_it_is_split() -> None:
    one = begin("carriage_loop", "X").model_copy(update={"moving": []})
    heavy = build(moving=[{"mass_kg": 1999.5, "quantity": 7}])
    load = as_load(heavy)
    assert load.quantity == 7
    assert load.mass_kg * load.quantity == pytest.approx(1999.5 * 7 + (as_load(one).mass_kg), abs=1e-3)
