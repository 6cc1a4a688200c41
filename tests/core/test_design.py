"""The design file: strict, versioned, complete, and kept as it was written."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import PLAIN, build
from crisp_cadence import demo
from crisp_cadence.core.design.design import (
    LARGEST_FILE,
    changed,
    design_from,
    design_schema,
    dump_design,
    parse_design,
)
from crisp_cadence.core.ledger.errors import EntryError, TooLargeError
from crisp_cadence.core.ledger.units import DIMENSIONS, convert

PLAIN_JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**9), 10**9)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(st.characters(exclude_categories=["Cs"]), max_size=8),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=6).map(lambda k: "x_" + k),
            inner,
            max_size=3,
        )
    ),
    max_leaves=8,
)


def problems(data: Any) -> dict[str, Any]:
    with pytest.raises(EntryError) as caught:
        design_from(data)
    return {p.field: p for p in caught.value.problems}


def test_a_change_leaves_what_it_is_told_alone() -> None:
    """A chain set as a whole and one field of it: the next change with the same chain starts from it anew."""
    design = design_from(PLAIN)
    chain = {"chain": [{"kind": "stepper", "frame": "NEMA 17"}]}
    assert changed(design, {**chain, "chain.0.frame": "NEMA 23"}).chain[0].frame == "NEMA 23"
    assert chain == {"chain": [{"kind": "stepper", "frame": "NEMA 17"}]}
    assert changed(design, chain).chain[0].frame == "NEMA 17"


@given(extra=PLAIN_JSON, inner=PLAIN_JSON, speed=st.floats(0.01, 20_000), teeth=st.integers(4, 400))
def test_files_round_trip_with_fields_nobody_knows(extra: Any, inner: Any, speed: float, teeth: int) -> None:
    data = json.loads(json.dumps(PLAIN))
    data["x_later"] = extra
    data["aim"] = {"speed_mm_s": speed, "x_later": inner}
    data["end"]["pulley"] = {"teeth": teeth, "x_later": inner}
    data["chain"].append({"kind": "x-drive", "x_later": extra})
    design = design_from(data)
    again = parse_design(dump_design(design).encode())
    assert again == design
    written = json.loads(dump_design(design))
    assert written["x_later"] == extra
    assert written["aim"]["x_later"] == written["end"]["pulley"]["x_later"] == inner
    assert written["chain"][1] == {"id": "1", "kind": "x-drive", "x_later": extra}


@given(st.sampled_from([(d, u) for d, x in DIMENSIONS.items() for u in x.factors]), st.floats(-1e6, 1e6))
def test_units_round_trip(unit: tuple[str, str], number: float) -> None:
    dimension, name = unit
    base = DIMENSIONS[dimension].base
    assert convert(convert(number, dimension, name, base), dimension, base, name) == pytest.approx(
        number, rel=1e-12, abs=1e-12
    )


def test_demo_designs_round_trip() -> None:
    for design in demo.designs().values():
        assert parse_design(dump_design(design).encode()) == design


@pytest.mark.parametrize(
    ("change", "field", "limit"),
    [
        ({"aim": {"speed_mm_s": -5.0}}, "aim.speed_mm_s", "0.01"),
        ({"aim": {"speed_mm_s": 1e12}}, "aim.speed_mm_s", "20000"),
        ({"aim": {"travel_mm": True}}, "aim.travel_mm", ""),
        ({"aim": {"travel_mm": "500"}}, "aim.travel_mm", ""),
        ({"aim": {"travel_mm": float("nan")}}, "aim.travel_mm", ""),
        ({"aim": {"travel_mm": float("inf")}}, "aim.travel_mm", ""),
        ({"end": {"kind": "carriage_loop", "pulley": {"teeth": 20.5}}}, "end.pulley.teeth", ""),
        ({"chain": [{"kind": "stepper", "driver": {"supply_v": 0.0}}]}, "chain.0.driver.supply_v", "1"),
        ({"chain": []}, "chain", "1"),
        ({"chain": [{"teeth": 3}]}, "chain.0", ""),
        (
            {"chain": [{"kind": "stepper", "frame": "NEMA 99"}]},
            "chain.0.frame",
            "'NEMA 11', 'NEMA 14', 'NEMA 17', 'NEMA 23', 'NEMA 24', 'NEMA 34' or 'other'",
        ),
        ({"name": "x" * 200}, "name", "120"),
    ],
)
def test_what_cannot_be_is_named_with_limit_and_remedy(
    change: dict[str, Any], field: str, limit: str
) -> None:
    found = problems({**PLAIN, **change})[field]
    assert found.limit == limit
    assert found.remedy
    assert found.message


def test_units_are_named_in_problems() -> None:
    assert problems({**PLAIN, "aim": {"speed_mm_s": -5.0}})["aim.speed_mm_s"].unit == "mm/s"


def test_unknown_fields_must_be_sound_too() -> None:
    deep: Any = 1
    for _ in range(60):
        deep = [deep]
    for bad in (float("nan"), float("inf"), 10**400, deep, "\ud800"):
        with pytest.raises(EntryError):
            design_from({**PLAIN, "x_later": bad})


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b"", "not readable as JSON"),
        (b"{", "not readable as JSON"),
        (b"\xff\xfe\x00", "not readable as JSON"),
        (b"[1, 2]", "is not an object"),
        (b'{"format": "another/program"}', "this is not a Crisp Cadence axis"),
        (b'{"format": "crisp-cadence/axis", "version": 2}', "newer version"),
        (b'{"format": "crisp-cadence/axis", "version": "1"}', "version"),
        (b'{"aim": {"speed_mm_s": NaN}}', "holds a number that is none"),
        (
            b'{"aim": {"speed_mm_s": 1e999}, "chain": [{"kind": "stepper"}], "end": {"kind": '
            b'"carriage_loop"}}',
            "aim.speed_mm_s",
        ),
        (b"[" * 100_000, "not readable as JSON"),
        (b'{"chain": [{"kind": "stepper"}]}', "end"),
    ],
)
def test_broken_foreign_and_future_files(text: bytes, says: str) -> None:
    with pytest.raises(EntryError, match=says):
        parse_design(text)


def test_a_huge_file_is_refused_before_it_is_read() -> None:
    with pytest.raises(TooLargeError, match="at most 4,000,000"):
        parse_design(b" " * (LARGEST_FILE + 1))


def test_the_schema_describes_what_is_accepted() -> None:
    """The published schema knows every kind, and states units and limits."""
    schema = design_schema()
    assert schema["$id"] == "crisp-cadence/axis/1"
    assert {"Stepper", "Gearbox", "CarriageLoop"} <= set(schema["$defs"])
    *known, other = schema["properties"]["end"]["oneOf"]
    assert other["properties"]["kind"]["not"]["enum"] == sorted(
        schema["$defs"][k["$ref"].split("/")[-1]]["properties"]["kind"]["const"] for k in known
    )
    speed = schema["$defs"]["Aim"]["properties"]["speed_mm_s"]
    assert (speed["minimum"], speed["maximum"], speed["unit"]) == (0.01, 20_000, "mm/s")
    assert build().version == 1
