"""A part that is taken is the whole part, and no proposal names a part that its numbers are not."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Any

import pytest

from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.choosing.find import search
from crisp_cadence.core.choosing.space import Reduction, taken
from crisp_cadence.core.choosing.tries import one_change
from crisp_cadence.core.design.design import AxisDesign, changed, design_from
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.parts import pulley_on, stock_pulleys
from crisp_cadence.core.fitting.plan import plan_belts
from crisp_cadence.core.fitting.taking import PLACES, Taken, take
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()
SHELF = [replace(s, price=round(2 + (17 * i % 23) / 3, 2)) for i, s in enumerate(catalog.stock())]
BY_KEY = {s.key: s for s in SHELF}


def first(row: str, **data: Any) -> Stock:
    return next(s for s in SHELF if s.kind == row and all(s.data.get(n) == v for n, v in data.items()))


def after(design: AxisDesign, got: Taken) -> AxisDesign:
    return changed(design, got.changes)


def part(design: AxisDesign, at: str) -> Any:
    here: Any = design
    for name in at.split("."):
        here = here[int(name)] if isinstance(here, list) else getattr(here, name)
    return here


class TestTheWholePart:
    def test_a_gearbox_of_ten_is_one_of_ten(self) -> None:
        """Stored as 5 : 1 under the new name, before."""
        design = changed(
            begin("gearbox", "G"),
            {"chain.1.torque_limit_nm": 99.0, "chain.1.radial_limit_n": 77.0, "chain.1.mass_kg": 5.0},
        )
        row = first("gearbox", ratio=10)
        box = part(after(design, take(design, PROFILES, SHELF, "chain.1", row.key)), "chain.1")
        assert all(getattr(box, n) == v for n, v in row.data.items())
        assert (box.label, box.drawer_key, box.price, box.source.kind) == (
            row.name,
            row.key,
            row.price,
            row.source_kind,
        )

    def test_what_the_new_part_does_not_state_is_cleared_and_what_is_assumed_is_said(self) -> None:
        scrap = Stock(
            "own:0123456789",
            "stepper",
            "From the scrap bin",
            {"hold_torque_nm": 0.4, "rated_current_a": 1.2, "detent_torque_nm": ""},
            1,
            None,
            "measured by you",
            "meter",
        )
        design = build(chain__0__mass_kg=0.3, chain__0__winding="series", chain__0__radial_limit_n=20.0)
        got = take(design, PROFILES, [*SHELF, scrap], "chain.0", scrap.key)
        motor = part(after(design, got), "chain.0")
        assert (
            motor.resistance_ohm,
            motor.inductance_mh,
            motor.rotor_inertia_gcm2,
            motor.detent_torque_nm,
        ) == (None, None, None, None)
        assert (motor.mass_kg, motor.radial_limit_n, motor.winding) == (None, None, "as given")
        assert got.assumed == ("frame", "shaft", "shaft form")
        assert motor.source.note == "meter; not stated, assumed: frame, shaft, shaft form"
        assert evaluate(after(design, got), PROFILES).verdict == "unknown"

    def test_a_driver_is_set_to_its_motor_and_otherwise_left_alone(self) -> None:
        design = build(chain__0__driver__microsteps=32)
        row = first("stepper", frame="NEMA 23")
        got = take(design, PROFILES, SHELF, "chain.0", row.key)
        driver = part(after(design, got), "chain.0.driver")
        assert (driver.microsteps, driver.supply_v, driver.current_a, driver.current_is) == (
            32,
            24.0,
            row.data["rated_current_a"],
            "rms",
        )
        assert any("current" in says for says in got.follows)

    def test_a_supply_brings_its_name_and_price(self) -> None:
        design = build(
            chain__0__driver={
                "label": "Driver and 36 V supply",
                "price": 52.0,
                "supply_v": 36.0,
                "current_a": 1.3,
            }
        )
        row = first("supply", supply_v=48)
        driver = part(
            after(design, take(design, PROFILES, SHELF, "chain.0.driver", row.key)), "chain.0.driver"
        )
        assert (driver.label, driver.supply_v, driver.price, driver.current_a) == (
            row.name,
            48.0,
            row.price,
            1.3,
        )

    def test_a_pulley_keeps_its_place_and_nothing_that_was_measured_on_the_old_one(self) -> None:
        design = build(
            end__pulley={
                "overhang_mm": 17.0,
                "seat_mm": 20.0,
                "runout_mm": 0.1,
                "sleeve": True,
                "made_of": "printed",
                "density_g_cm3": 1.2,
            }
        )
        row = first("pulley", profile="round-g-2", teeth=36)
        pulley = part(after(design, take(design, PROFILES, SHELF, "end.pulley", row.key)), "end.pulley")
        assert (pulley.overhang_mm, pulley.seat_mm) == (17.0, 20.0)
        assert (pulley.runout_mm, pulley.sleeve, pulley.made_of, pulley.density_g_cm3) == (
            0.0,
            False,
            "aluminium",
            2.7,
        )
        assert (pulley.teeth, pulley.bore_mm, pulley.hub_mm, pulley.face_mm) == tuple(
            row.data[n] for n in ("teeth", "bore_mm", "hub_mm", "face_mm")
        )

    def test_a_belt_brings_pulley_and_idler_of_its_profile(self) -> None:
        design = build(end__belt={"ea_n": 9000.0, "tension_n": 44.0, "calibrated_at_n": 20.0})
        design = after(
            design,
            take(design, PROFILES, SHELF, "end.pulley", first("pulley", profile="round-g-2", teeth=40).key),
        )
        design = after(
            design,
            take(
                design, PROFILES, SHELF, "end.idler", first("idler", kind="toothed", profile="round-g-2").key
            ),
        )
        row = first("belt", profile="round-h-5", width_mm=15)
        now = after(design, take(design, PROFILES, SHELF, "end.belt", row.key))
        end: Any = now.end
        assert (end.belt.profile, end.belt.width_mm, end.belt.price_per_m, end.belt.price) == (
            "round-h-5",
            15.0,
            row.price,
            None,
        )
        assert (end.belt.ea_n, end.belt.tension_n, end.belt.calibrated_at_n) == (None, None, None)
        assert BY_KEY[end.pulley.drawer_key].data["profile"] == "round-h-5"
        assert (end.pulley.teeth, end.pulley.face_mm >= 15) == (15, True), (
            "15 teeth of 5 mm are nearest to 40 of 2 mm"
        )
        assert (end.idler.drawer_key, end.idler.label, end.idler.width_mm >= 15) == (None, "", True)
        evaluate(now, PROFILES)

    def test_a_motor_with_a_thicker_shaft_brings_another_pulley(self) -> None:
        design = build()
        design = after(
            design,
            take(
                design,
                PROFILES,
                SHELF,
                "end.pulley",
                first("pulley", profile="round-g-2", teeth=20, bore_mm=5.0).key,
            ),
        )
        now = after(design, take(design, PROFILES, SHELF, "chain.0", first("stepper", shaft_mm=6.35).key))
        pulley = part(now, "end.pulley")
        assert pulley.bore_mm == 6.35 == BY_KEY[pulley.drawer_key].data["bore_mm"]
        assert pulley.label == BY_KEY[pulley.drawer_key].name

    def test_whole_numbers_of_a_csv(self) -> None:
        row = Stock(
            "own:0123456780",
            "pulley",
            "Mine",
            {"profile": "round-g-2", "teeth": 22.0, "bore_mm": 5.0, "hub_mm": 15.0, "face_mm": 7.0},
            1,
            None,
        )
        assert take(build(), PROFILES, [row], "end.pulley", row.key).changes["end.pulley.teeth"] == 22


class TestWhatCannotBeTaken:
    @pytest.mark.parametrize(
        ("at", "key", "says"),
        [
            ("chain.0", "washer:washer-m5", "does not take a washer"), ("end.pulley", "supply:supply-24-v-dc", "does not take a supply"), ("end.nowhere", "supply:supply-24-v-dc", "does not take"),
            ("chain.7", "supply:supply-24-v-dc", "does not take"), ("chain.0", "stepper:nobody", "is not in the drawer"), ("end.pulley", "pulley:pulley-xl-10-teeth-bore-5-mm", "has teeth of another profile"),
        ],
    )  # fmt: skip
    def test_is_refused_with_its_reason(self, at: str, key: str, says: str) -> None:
        with pytest.raises(EntryError, match=says) as caught:
            take(build(), PROFILES, SHELF, at, key)
        assert caught.value.problems[0].remedy

    @pytest.mark.parametrize(
        "data",
        [{"hold_torque_nm": "strong"}, {"hold_torque_nm": -3.0}, {"shaft_mm": True}, {"frame": "round"}],
    )
    def test_odd_data_are_named(self, data: dict[str, Any]) -> None:
        row = Stock("own:0123456780", "stepper", "Odd", {**first("stepper").data, **data}, 1, None)
        with pytest.raises(EntryError) as caught:
            take(build(), PROFILES, [row], "chain.0", row.key)
        assert caught.value.problems[0].field == f"chain.0.{next(iter(data))}"


def named(data: Any, at: str = "") -> Iterator[tuple[str, Mapping[str, Any]]]:
    """Every part of plain data that names a row of the drawer."""
    if isinstance(data, dict):
        if data.get("drawer_key"):
            yield at, data
        for name, value in data.items():
            yield from named(value, f"{at}.{name}".strip("."))
    elif isinstance(data, list):
        for i, value in enumerate(data):
            yield from named(value, f"{at}.{i}")


def is_what_it_says(design: AxisDesign) -> int:
    """Each named part has its row's numbers, but for a bore that its name says was reamed; returns how many
    were looked at.
    """
    data = design.model_dump(mode="json")
    count = 0
    for at, found in named(data):
        row = BY_KEY[found["drawer_key"]]
        holder = data
        for name in at.split(".")[: -1 if at.endswith(("screw", "rack", "belt")) else None]:
            holder = holder[int(name)] if isinstance(holder, list) else holder[name]
        numbers = {**holder, **found}
        reamed = f"{row.name}, reamed to {numbers.get('bore_mm', 0):g} mm"
        sleeved = found["label"].startswith(f"{row.name}, with a sleeve to ")
        assert found["label"] in (row.name, reamed) or sleeved, at
        for name, value in row.data.items():
            other_nut = name == "backlash_mm" and holder.get("nut", {}).get("label")
            if name in numbers and not other_nut and not (name == "bore_mm" and found["label"] == reamed):
                assert numbers[name] == value, (at, name, found["label"])
        assert numbers.get("price_per_m" if row.kind == "belt" else "price") == row.price, at
        count += 1
    return count


EVERYWHERE = {
    "carriage_loop": "a loop",
    "gantry": "two sides",
    "crossed_belts": "crossed",
    "belt_reduction": "closed belt",
    "gearbox": "gearbox",
    "riding_motor": "rides",
    "screw": "screw",
    "rack": "rack",
}


def places(design: AxisDesign) -> Iterator[tuple[str, str]]:
    """Every place of a design with the kinds of row that it takes."""

    def walk(thing: Any, at: str) -> Iterator[tuple[str, str]]:
        for kind, models in PLACES.items():
            if any(isinstance(thing, model) for model, _ in models):
                yield at, kind
        if isinstance(thing, list):
            for i, item in enumerate(thing):
                yield from walk(item, f"{at}.{i}")
        elif hasattr(type(thing), "model_fields"):
            for name in type(thing).model_fields:
                yield from walk(getattr(thing, name), f"{at}.{name}".strip("."))

    yield from walk(design, "")


@pytest.mark.parametrize("layout", EVERYWHERE)
def test_every_kind_of_part_taken_anywhere_is_what_it_says(layout: str) -> None:
    design, count = begin(layout, "A"), 0
    for at, kind in list(places(design)):
        rows = [s for s in SHELF if s.kind == kind]
        for row in rows[:: max(1, len(rows) // 7)]:
            try:
                now = after(design, take(design, PROFILES, SHELF, at, row.key))
            except EntryError as error:
                assert "another profile" in error.problems[0].message, error  # noqa: PT017 - only this one is expected
                continue
            assert is_what_it_says(now) >= 1
            count += 1
    assert count >= 7


def test_search_rows_are_what_they_say() -> None:
    """Motors of several shafts with reductions: every pulley of every row is a row of the drawer that goes on
    its shaft.
    """
    design = demo.designs()["seed-shuttle-aisle"]
    some = [
        s
        for s in SHELF
        if s.kind in ("pulley", "belt", "closed belt") and s.data["profile"] in ("round-g-3", "round-h-5")
    ]
    some += [s for s in SHELF if s.kind in ("stepper", "supply", "gearbox")][::3]
    kinds: tuple[Reduction, ...] = ("direct", "gearbox", "closed belt")
    answer = search(design, PROFILES, some, "anything", kinds)
    assert len(answer.rows) > 8  # no gearbox of another frame is among them
    shafts = set()
    for row in answer.rows:
        made = taken(design, row.changes)
        own = made.model_copy(
            update={
                "extras": [],
                "end": made.end.model_copy(
                    update={"idler": made.end.idler.model_copy(update={"drawer_key": None, "stack": []})}
                ),
            }
        )  # type: ignore[attr-defined]
        assert is_what_it_says(own) >= 3
        chain: list[Any] = list(made.chain)
        for here, pulley in (
            (chain[-1].shaft_mm, made.end.pulley),
            *((chain[j - 1].shaft_mm, s.driver) for j, s in enumerate(chain) if s.kind == "closed_belt"),
        ):  # type: ignore[attr-defined]
            assert pulley.bore_mm == pytest.approx(here, abs=0.02) or pulley.sleeve
            shafts.add(here)
        assert evaluate(made, PROFILES).value("bill.spend") == pytest.approx(row.spend, abs=0.01)
    assert len(shafts) > 2


@pytest.mark.parametrize(
    "name",
    [
        "seed-shuttle-aisle",
        "seed-shuttle-lift",
        "clay-printer-head",
        "trimming-bench-trimming-slide",
        "slip-writer-reach",
    ],
)
def test_single_changes_are_what_they_say(name: str) -> None:
    """On a design whose parts are all rows of the drawer as they are."""
    design = demo.designs()[name]
    for at, kind in list(places(design)):
        row = next(
            (s for s in SHELF if s.kind == kind and s.data.get("profile") in (None, _profile(design, at))),
            None,
        )
        if row is not None and not at.endswith(("driver", "idler")) and ".stack" not in at:
            design = after(design, take(design, PROFILES, SHELF, at, row.key))
    plain = design.model_dump(mode="json")
    if "idler" in plain["end"]:
        plain["end"]["idler"] |= {"stack": []}
    design = design_from(plain)
    assert is_what_it_says(design) >= 2
    answer = one_change(design, PROFILES, SHELF)
    assert len(answer.singles) > 10
    for change in answer.singles:
        is_what_it_says(changed(design, change.changes))


def _profile(design: AxisDesign, at: str) -> str | None:
    holder: Any = design.end if at.startswith("end") else part(design, ".".join(at.split(".")[:2]))
    return getattr(getattr(holder, "belt", None), "profile", None)


def test_the_closed_belts_of_the_belt_step_are_what_they_say() -> None:
    design = begin("belt_reduction", "A")
    (plan,) = plan_belts(design, PROFILES, SHELF).closed
    assert len(plan.stock) > 3
    assert len(plan.pairs) > 2
    for row in (*plan.stock, *plan.pairs):
        assert is_what_it_says(changed(design, row.changes)) >= 1


class TestPulleysOnShafts:
    rows = stock_pulleys(SHELF)["round-g-2"][20]

    def test_the_very_bore_before_all(self) -> None:
        assert pulley_on(self.rows, 7, 6.35).fields["label"] == "Pulley G 2 mm, 20 teeth, bore 6.35 mm"

    def test_reamed_where_there_is_metal_enough(self) -> None:
        found = pulley_on(self.rows, 7, 10.0).fields
        assert (found["label"], found["bore_mm"], found["sleeve"]) == (
            "Pulley G 2 mm, 20 teeth, bore 8 mm, reamed to 10 mm",
            10.0,
            False,
        )

    def test_sleeved_where_every_bore_is_too_large(self) -> None:
        found = pulley_on(self.rows, 7, 4.0).fields
        assert (found["label"], found["bore_mm"], found["sleeve"]) == (
            "Pulley G 2 mm, 20 teeth, bore 5 mm, with a sleeve to 4 mm",
            5.0,
            True,
        )

    def test_what_is_owned_before_what_is_bought(self) -> None:
        mine = replace(self.rows[0], key="own:1", name="Mine", quantity=1)
        assert pulley_on([*self.rows, mine], 7, 5.0).fields["label"] == "Mine"


@pytest.mark.parametrize("kind", ["press fit", "set screw on flat", "clamp", "key"])
@pytest.mark.parametrize("hub", [8.0, 7.9])
def test_a_hub_no_larger_than_its_shaft_is_refused_in_words(kind: str, hub: float) -> None:
    """A press fit on such a hub divided by zero, or held less than nothing, before."""
    design = build(
        chain__0__shaft_mm=8.0, end__pulley={"hub_mm": hub, "bore_mm": 5.0, "fixing": {"kind": kind}}
    )
    for work in (
        lambda: evaluate(design, PROFILES),
        lambda: plan_belts(design, PROFILES, SHELF),
        lambda: one_change(design, PROFILES, SHELF),
    ):
        with pytest.raises(EntryError) as caught:
            work()
        assert [(p.field, p.limit) for p in caught.value.problems] == [("end.pulley.hub_mm", "8")]
    driven = changed(
        begin("belt_reduction", "A"),
        {"chain.1.driven.hub_mm": 8.0, "chain.1.driven.bore_mm": 5.0, "chain.1.driven.fixing.kind": kind},
    )
    with pytest.raises(EntryError, match="no larger than the shaft"):
        evaluate(driven, PROFILES)
