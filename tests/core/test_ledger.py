"""The ledger, the ladder and the records that carry every number."""

from __future__ import annotations

import dataclasses
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence.core.account.report import Rung, Verdict
from crisp_cadence.core.account.verdicts import judge, merged, overall, sorted_ladder
from crisp_cadence.core.formulas import dynamics
from crisp_cadence.core.ledger.quantity import Given, Ledger, missing_in, value_of
from crisp_cadence.core.ledger.record import record


def a_rung(
    key: str,
    ratio: float | None,
    margin: float = 1.0,
    *,
    advisory: bool = False,
    verdict: Verdict | None = None,
) -> Rung:
    headroom = None if ratio is None else ratio / margin
    return Rung(
        key,
        key.title(),
        1.0,
        ratio,
        "N",
        ratio,
        margin,
        headroom,
        verdict or judge(ratio, margin),
        (),
        False,
        (),
        "drive",
        "motor",
        "x",
        "",
        advisory,
    )


class TestLedger:
    def test_a_result_carries_its_formula_and_inputs(self) -> None:
        book = Ledger()
        mass = Given("moving.0.mass_kg", 2.0, "kg", "measured by you", "scales")
        force = book.calc("force", "Force", dynamics.inertia_force, mass_kg=mass, acceleration_mm_s2=1500.0)
        assert force.value == 3.0
        assert force.unit == "N"
        assert force.equation == "F_a = m·a"
        assert [(i.name, i.value, i.ref, i.source_kind) for i in force.inputs] == [
            ("mass_kg", 2.0, "moving.0.mass_kg", "measured by you"),
            ("acceleration_mm_s2", 1500.0, "", ""),
        ]
        assert book.results == {"force": force}

    def test_results_are_inputs_of_further_results(self) -> None:
        book = Ledger()
        force = book.calc("force", "Force", dynamics.inertia_force, mass_kg=2.0, acceleration_mm_s2=1000.0)
        give = book.calc("give", "Give", dynamics.give, force_n=force, stiffness_n_mm=4.0)
        assert give.value == 0.5
        assert give.inputs[0].ref == "force"

    def test_what_is_missing_passes_through_every_step_by_name(self) -> None:
        book = Ledger()
        lacks = Given("chain.0.inductance_mh", None, "mH")
        one = book.put("one", "One", lambda: 1.0, "", equation="=", source="test", x=lacks)
        two = book.put(
            "two", "Two", lambda: 1.0, "", equation="=", source="test", x=one, y=Given("other", None)
        )
        assert one.value is None
        assert two.missing == ("chain.0.inductance_mh", "other")
        assert missing_in([one, two, 3.0]) == ("chain.0.inductance_mh", "other")

    @pytest.mark.parametrize("bad", [math.inf, -math.inf, math.nan])
    def test_no_result_is_ever_infinite(self, bad: float) -> None:
        made = Ledger().put("x", "X", bad, "N", equation="=", source="test")
        assert made.value is None
        assert "no finite value" in made.missing[0]

    def test_inputs_are_laid_out_once(self) -> None:
        made = Ledger().put("x", "X", 1.0, "N", equation="=", source="test", a=2.0)
        assert made.inputs is made.inputs

    def test_another_label_leaves_the_number_alone(self) -> None:
        made = Ledger().put("x", "At the carriage", 1.0, "N", equation="=", source="test", a=2.0)
        named = made.named("At the tip")
        assert (named.label, named.value, named.inputs) == ("At the tip", 1.0, made.inputs)
        assert made.named("At the carriage") is made

    def test_value_of_takes_every_kind_of_term(self) -> None:
        assert (value_of(3.0), value_of(None), value_of(Given("x", 4.0))) == (3.0, None, 4.0)


class TestRecords:
    def test_records_compare_print_and_replace_as_dataclasses_do(self) -> None:
        @record
        class Point:
            x: float
            y: float = 0.0

        assert Point(1.0) == Point(x=1.0, y=0.0)
        assert dataclasses.replace(Point(1.0), y=2.0) == Point(1.0, 2.0)
        assert "Point(x=1.0, y=0.0)" in repr(Point(1.0))
        assert hash(Point(1.0)) == hash(Point(1.0))
        with pytest.raises(TypeError):
            Point()  # type: ignore[call-arg]

    def test_a_rung_can_be_replaced(self) -> None:
        assert dataclasses.replace(a_rung("a", 1.0), case="x").case == "x"


class TestLadder:
    @given(ratio=st.floats(0, 100), margin=st.floats(1, 5))
    def test_verdicts_follow_ratio_and_margin(self, ratio: float, margin: float) -> None:
        verdict = judge(ratio, margin)
        if ratio >= margin:
            assert verdict == "holds"
        elif ratio >= 1:
            assert verdict in ("tight", "holds")
        elif ratio < 1 - 1e-6:
            assert verdict == "short"

    def test_short_ones_stand_on_top_then_unknown_then_by_headroom_then_idle(self) -> None:
        rungs = [
            a_rung("idle", None, verdict="no demand"),
            a_rung("fine", 3.0),
            a_rung("what", None),
            a_rung("tight", 1.2, 1.5),
            a_rung("bad", 0.4),
            a_rung("worse", 0.2),
        ]
        assert [r.key for r in sorted_ladder(rungs)] == ["worse", "bad", "what", "tight", "fine", "idle"]

    def test_advice_does_not_decide_the_whole(self) -> None:
        assert overall((a_rung("advice", 0.1, advisory=True), a_rung("rest", 2.0))) == ("holds", "rest")

    def test_unknown_beats_tight_but_not_short(self) -> None:
        assert overall((a_rung("a", 1.2, 1.5), a_rung("b", None)))[0] == "unknown"
        assert overall((a_rung("a", 0.5), a_rung("b", None)))[0] == "short"

    def test_cases_are_merged_by_the_worst_and_named_only_where_they_differ(self) -> None:
        light, heavy = (
            (a_rung("pull", 3.0), a_rung("travel", 1.1)),
            (a_rung("pull", 1.4), a_rung("travel", 1.1), a_rung("extra", 0.5)),
        )
        found = {r.key: (r.ratio, r.case) for r in merged([("light", light), ("heavy", heavy)])}
        assert found == {"pull": (1.4, "heavy"), "travel": (1.1, ""), "extra": (0.5, "heavy")}

    def test_an_unknown_case_counts_before_one_that_holds(self) -> None:
        found = merged([("a", (a_rung("x", 9.0),)), ("b", (a_rung("x", None),))])
        assert (found[0].verdict, found[0].case) == ("unknown", "b")
