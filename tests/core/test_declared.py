"""Declared once: where a rung, a field, a kind or a format is defined says where it belongs, and the screens
name nothing that is not there.
"""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any, get_args

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import STEP_OF, Report, Section, Step
from crisp_cadence.core.design.design import AxisDesign, changed, design_schema
from crisp_cadence.core.design.layouts import LAYOUTS, begin, layout_of
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.axis import Sides
from crisp_cadence.core.fields.belts import ShaftTensioner, Tensioner
from crisp_cadence.core.fitting.drawer import DATA, KINDS
from crisp_cadence.core.ledger.formula import FORMULAS, formula

WEB = Path(__file__).parents[2] / "web" / "src"
SCHEMA = design_schema()
SCREENS = {p.relative_to(WEB): p.read_text(encoding="utf-8") for p in sorted(WEB.rglob("*.tsx"))}


@pytest.fixture(scope="module")
def designs() -> list[AxisDesign]:
    """Every layout as it begins, a gantry in every way to drive its sides, belts with every kind of tensioner, an
    arm with a brake, and every design of the demo.
    """
    driven = get_args(Sides.model_fields["kind"].annotation)
    gantries = [changed(begin("gantry", "A"), {"sides.kind": kind}) for kind in driven]
    open_belts = [
        changed(begin("carriage_loop", "A"), {"end.tensioner.kind": kind})
        for kind in get_args(Tensioner.model_fields["kind"].annotation)
    ]
    roller = {"x_mm": 60.0, "y_mm": -24.0, "diameter_mm": 20.0}
    closed = [
        changed(
            demo.designs()["clay-printer-long-way"],
            {"chain.1.tensioner.kind": kind, "chain.1.rollers": [roller], "chain.1.wanted_mm": 130.0},
        )
        for kind in get_args(ShaftTensioner.model_fields["kind"].annotation)
    ]
    begun = [begin(key, "A") for key in LAYOUTS]
    braked = changed(begin("joint", "A"), {"aim.brake_n": 8.0})
    return [*begun, *gantries, *open_belts, *closed, braked, *demo.designs().values()]


@pytest.fixture(scope="module")
def reports(designs: list[AxisDesign]) -> list[Report]:
    return [evaluate(d, catalog.profiles()) for d in designs]


def steps_at(path: str, design: AxisDesign) -> list[str]:
    """The steps that a field and the parts around it name in the published schema, outermost first; KeyError
    where there is no such field.
    """
    schema = SCHEMA
    node: Any = schema
    data: Any = design.model_dump(mode="json")
    found = []
    for name in path.split("."):
        while (
            "$ref" in node or "oneOf" in node or ("anyOf" in node and any("$ref" in n for n in node["anyOf"]))
        ):
            if "$ref" in node:
                node = schema["$defs"][node["$ref"].removeprefix("#/$defs/")]
                continue
            refs = [n for n in node.get("oneOf", node.get("anyOf")) if "$ref" in n]
            kinds = [
                n
                for n in refs
                if schema["$defs"][n["$ref"].rpartition("/")[2]]["properties"]["kind"].get("const")
                == data["kind"]
            ]
            node = kinds[0] if kinds else refs[0]
        node = node["items"] if name.isdigit() else node["properties"][name]
        data = data[int(name)] if isinstance(data, list) else (data or {}).get(name)
        if "step" in node:
            found.append(node["step"])
    return found


def test_every_rung_has_a_section_and_every_section_a_step_and_a_rung(reports: list[Report]) -> None:
    assert set(STEP_OF) == set(get_args(Section))
    assert set(STEP_OF.values()) <= set(get_args(Step))
    for report in reports:
        assert all(r.step == STEP_OF[r.section] for r in report.ladder)
    assert {r.section for report in reports for r in report.ladder} == set(STEP_OF)


def test_every_field_that_decides_a_rung_is_there_and_names_its_step(
    designs: list[AxisDesign], reports: list[Report]
) -> None:
    for design, report in zip(designs, reports, strict=True):
        for rung in report.ladder:
            assert steps_at(rung.field, design), (design.name, rung.key, rung.field)
        for node in report.drive_line:
            assert steps_at(node.field, design), (design.name, node.part, node.field)


def test_screens_name_no_figure_that_no_design_gives(reports: list[Report]) -> None:
    given = {q.key for report in reports for q in report.results}
    for path, text in SCREENS.items():
        for key in re.findall(r'<Figure of="([^"]+)"', text) + re.findall(r'\bfind\("([a-z_.0-9]+)"\)', text):
            assert key in given, f"{path}: {key}"


def test_screens_name_no_field_that_no_design_has(designs: list[AxisDesign]) -> None:
    def has(path: str) -> bool:
        for design in designs:
            try:
                steps_at(path, design)
            except (KeyError, IndexError):
                continue
            return True
        return False

    checked = 0
    for path, text in SCREENS.items():
        for field in re.findall(r'<(?:Number|Text|Choice|Tick)Field path="([a-z_.0-9]+)"', text):
            assert has(field), f"{path}: {field}"
            checked += 1
    assert checked > 20


def test_screens_list_no_rungs_kinds_or_units_of_their_own(reports: list[Report]) -> None:
    """Lists of three and more names that the core has too; a single one is a screen speaking of its own
    subject.
    """
    rungs = {r.key for report in reports for r in report.ladder if "." not in r.key}
    names = [rungs, set(KINDS), {"stepper", "gearmotor", "induction"}]
    for path, text in SCREENS.items():
        for listed in re.findall(r"[\[{][^\[\]{}\n]*[\]}]", text):
            words = set(re.findall(r'"([^"]+)"', listed))
            for known in names:
                assert len(words & known) < 3, f"{path}: {sorted(words & known)}"


def test_every_kind_of_the_catalogue_has_words_and_every_datum_is_one_of_it() -> None:
    rows = catalog.parts().values()
    assert {r.kind for r in rows} == set(KINDS)
    assert set(DATA) <= {name for r in rows for name in r.data}


def test_two_formulas_never_share_a_name() -> None:
    taken = next(iter(FORMULAS))

    def again() -> float:
        """Nothing.

        Equation: x = 1
        Units: – → –
        Range: any
        Source: estimate — none
        """
        return 1.0

    again.__name__ = taken
    with pytest.raises(ValueError, match="there is a formula of that name already"):
        formula(again)


def test_the_published_schema_is_what_the_core_says() -> None:
    published = json.loads((WEB.parents[1] / "docs" / "axis.schema.json").read_text(encoding="utf-8"))
    assert published == design_schema()


def conditional() -> dict[str, dict[str, list[str]]]:
    """By part: its fields that count for some of its kinds only, with those kinds."""
    found = {}
    for name, node in design_schema()["$defs"].items():
        fields = {f: n["only"] for f, n in node.get("properties", {}).items() if "only" in n}
        if fields:
            found[name] = fields
    return found


def test_fields_that_count_for_some_kinds_only_name_kinds_of_their_part() -> None:
    defs = design_schema()["$defs"]
    assert conditional().keys() == {
        "Fixing",
        "Mount",
        "Sides",
        "Idler",
        "Roller",
        "Clamp",
        "Tensioner",
        "ShaftTensioner",
    }
    for part, fields in conditional().items():
        kinds = set(defs[part]["properties"]["kind"]["enum"])
        for field, only in fields.items():
            assert set(only) & kinds < kinds, f"{part}.{field}"
            # A field that parts have in common names kinds of one or another of them.
            shared = [p for p, others in conditional().items() if field in others]
            known = {k for p in shared for k in defs[p]["properties"]["kind"]["enum"]}
            assert set(only) <= known, f"{part}.{field}"


def test_no_rung_leads_to_a_field_that_does_not_count(
    designs: list[AxisDesign], reports: list[Report]
) -> None:
    counted, seen = conditional(), 0
    for design, report in zip(designs, reports, strict=True):
        for rung in report.ladder:
            owner, _, name = rung.field.rpartition(".")
            if not owner or owner.startswith("extras"):
                continue
            part: Any = design
            for key in owner.split("."):
                part = part[int(key)] if isinstance(part, list) else getattr(part, key)
            only = counted.get(type(part).__name__, {}).get(name)
            if only is not None:
                seen += 1
                assert part.kind in only, f"{design.name}: {rung.key} leads to {rung.field}"
    assert seen > 3


@pytest.mark.parametrize("key", LAYOUTS)
def test_a_design_says_which_layout_it_is_of(key: str) -> None:
    assert layout_of(begin(key, "A")) == key
    assert layout_of(changed(begin("rack", "A"), {"sides.kind": "two motors"})) == "rack"
