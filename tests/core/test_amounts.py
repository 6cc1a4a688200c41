"""Sentences in the reader's units: what is said, what stays, and that nothing but words changes."""

from __future__ import annotations

import re

import pytest

from crisp_cadence import catalog
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.amounts import in_units, number, said
from crisp_cadence.core.ledger.errors import problem

METRIC = re.compile(r"\d (mm|N|kg|N·m|mm/s)(?![\w·/])")
# What a thing is called or sold by, and the trade's own figures, stay as they are.
OWN = re.compile(r"⌀|wide|shaft|module|bore|tooth|stall|common practice|Bolt|face|coarse|lead")


@pytest.mark.parametrize(
    ("value", "unit", "form", "words"),
    [
        (25.4, "mm", ".1f", "1 in"),
        (0.5, "mm", ".2f", "0.01969 in"),
        (4.4482216152605, "N", ".0f", "1 lbf"),
        (1.0, "N·m", ".2f", "141.6 oz·in"),
        (0.45359237, "kg", ".3g", "1 lb"),
        (0.3048, "m", ".2f", "1 ft"),
        (0.0, "mm", ".2f", "0 in"),
        (1440.0, "rpm", ".0f", "1440 rpm"),
    ],
)
def test_inches_and_pounds_by_their_definitions(value: float, unit: str, form: str, words: str) -> None:
    """The international yard and pound of 1959, and standard gravity (ISO 80000-3)."""
    with in_units("imperial"):
        assert said(value, unit, form) == words


def test_the_system_ends_with_its_block_even_when_that_breaks_off() -> None:
    with pytest.raises(ZeroDivisionError), in_units("imperial"):
        _ = 1 / 0
    assert said(25.4, "mm") == "25.4 mm"
    assert number(1234.5, "N", ".0f") == "1234"


def test_a_refusal_names_its_limit_in_inches() -> None:
    with in_units("imperial"):
        found = problem("end.pulley.bore_mm", "is too large", value=50.8, limit=25.4, unit="mm", remedy="x")
    assert (found.value, found.limit, found.unit) == ("2", "1", "in")


def sentences(report: Report) -> list[str]:
    return [
        report.in_words,
        *(r.says for r in report.ladder),
        *(w.do for w in report.work),
        *(w.check for w in report.work),
        *(c.says for c in report.cautions),
        *(n.says for n in report.notes),
    ]


@pytest.mark.parametrize("key", LAYOUTS)
def test_no_sentence_keeps_millimetres_and_no_number_changes(key: str) -> None:
    design, profiles = begin(key, "Axis"), catalog.profiles()
    metric = evaluate(design, profiles)
    with in_units("imperial"):
        imperial = evaluate(design, profiles)
    left = [s for s in sentences(imperial) if METRIC.search(s) and not OWN.search(s)]
    assert left == []
    assert [q.value for q in metric.results] == [q.value for q in imperial.results]
    assert [(r.demand, r.capacity) for r in metric.ladder] == [
        (r.demand, r.capacity) for r in imperial.ladder
    ]
    assert (sentences(metric) != sentences(imperial)) == any(METRIC.search(s) for s in sentences(metric))
