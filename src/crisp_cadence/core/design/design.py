"""The design of one axis: the single definition behind the file format, the store's column, the API and the
screens.
"""

from __future__ import annotations

import json
import math
from collections.abc import Iterable, Mapping
from copy import deepcopy
from itertools import islice
from typing import TYPE_CHECKING, Any

from pydantic import Field, ValidationError, model_validator

from ..fields.axis import Aim, Assumptions, Axis, Extra, Guide, Mass
from ..fields.part import Part
from ..fields.rows import Rows
from ..ledger.errors import EntryError, Problem, TooLargeError, problem, show
from ..parts import ends, stages
from ..parts.ends.contract import End
from ..parts.stages.contract import Stage
from .registry import kinds_in, union_of

FORMAT = "crisp-cadence/axis"
VERSION = 1
LARGEST_DESIGN = 1_000_000  # bytes as it is stored; one of forty parts is about 20 kB
LARGEST_FILE = 4_000_000  # bytes; a file is laid out to be read, which takes more room
MOST_VALUES = 20_000  # of all kinds in one design, those that this version does not know included
DEEPEST = 40

STAGES: dict[str, type[Stage]] = kinds_in(stages, Stage)
ENDS: dict[str, type[End]] = kinds_in(ends, End)

if (
    TYPE_CHECKING
):  # for the type checker any stage is a Stage; at run time the union reads each kind as its own class
    AnyStage = Stage
    AnyEnd = End
else:
    AnyStage = union_of(STAGES.values())
    AnyEnd = union_of(ENDS.values())


class AxisDesign(Axis):
    """One axis: its aim, its guide, what moves, the chain from motor to end, what else is bought, and what is
    assumed.

    The chain is a list of stages in power-flow order, each told by its `kind`; any sequence of kinds and any
    kind of end fits.
    """

    chain: Rows[AnyStage] = Field(
        title="Chain", min_length=1, max_length=12, json_schema_extra={"step": "drive"}
    )
    end: AnyEnd = Field(title="End of the chain", json_schema_extra={"step": "drive"})

    @model_validator(mode="before")
    @classmethod
    def _is_bounded(cls, data: Any) -> Any:
        """How many values there are and how deep they lie, before anything is made of them."""
        bounded(data)
        return data

    @model_validator(mode="after")
    def _unknown_fields_are_sound(self) -> AxisDesign:
        """Fields that this version does not know are kept, but not numbers that JSON cannot carry, nor
        bottomless nesting.
        """
        sound_extras(self)
        return self


def bounded(data: Any, most: int = MOST_VALUES, deepest: int = DEEPEST + 20) -> None:
    """ValueError for plain data of more values, or nested deeper, than a design can have.

    >>> bounded([[[]]], most=2)
    Traceback (most recent call last):
    ...
    ValueError: holds more than 2 values
    """
    level, count, depth = [data], 0, 0
    while level:
        below: list[Any] = []
        for item in level:
            inside = item.values() if isinstance(item, dict) else item if isinstance(item, list) else ()
            count += 1 + (len(item) if isinstance(item, dict) else 0)
            below.extend(islice(inside, most + 1))
            if count + len(below) > most:
                raise ValueError(f"holds more than {most} values")
        level, depth = below, depth + 1
        if depth > deepest and level:
            raise ValueError(f"is nested deeper than {deepest}")


def sound_extras(part: Part, at: str = "") -> None:
    """ValueError where a field that this version does not know holds what JSON cannot carry, or nests
    bottomless.
    """
    for name, value in (part.model_extra or {}).items():
        _sound(value, f"{at}{name}", 0)
    for name in type(part).model_fields:
        value = getattr(part, name)
        if isinstance(value, Part):
            sound_extras(value, f"{at}{name}.")
        elif isinstance(value, list):
            for place, item in enumerate(value):
                if isinstance(item, Part):
                    sound_extras(item, f"{at}{name}.{place}.")


def _sound(value: Any, at: str, depth: int) -> None:
    if isinstance(value, float) and not math.isfinite(value):
        raise ValueError(f"{at} is not a finite number")
    if isinstance(value, int) and abs(value) > 10**300:
        raise ValueError(f"{at} is too large a number")
    if isinstance(value, str) and any(0xD800 <= ord(c) <= 0xDFFF for c in value):
        raise ValueError(f"{at} holds a broken character")
    if depth > DEEPEST:
        raise ValueError(f"{at} is nested deeper than {DEEPEST}")
    if isinstance(value, dict):
        for name, item in value.items():
            _sound(name, f"{at} (a name)", depth + 1)
            _sound(item, f"{at}.{name}", depth + 1)
    elif isinstance(value, list):
        for place, item in enumerate(value):
            _sound(item, f"{at}.{place}", depth + 1)


# Said without the number: it stands beside as the limit, in the units that the maker reads.
_OUTSIDE = {
    "less_than_equal": "is more than this can be",
    "less_than": "is not below what this must stay below",
    "greater_than_equal": "is less than this can be",
    "greater_than": "is not above what this must be above",
}
_REMEDY = {
    "greater_than_equal": "Enter at least the limit.",
    "less_than_equal": "Enter at most the limit.",
    "finite_number": "Enter an ordinary number.",
    "float_type": "Enter a number, without quotes.",
    "int_type": "Enter a whole number.",
    "bool_type": "Say true or false.",
    "missing": "Add the field.",
    "literal_error": "Pick one of the values named.",
    "string_too_long": "Shorten the text.",
    "too_long": "Remove some entries.",
    "too_short": "Add at least one entry.",
    "kind_missing": "Say what kind of part it is.",
}


def findings(errors: Iterable[Any]) -> list[Problem]:
    """Turn Pydantic's findings into problems with field, value, limit, unit and remedy; input is never echoed
    whole.
    """
    kinds = (
        frozenset(STAGES)
        | frozenset(ENDS)
        | {"unknown kind", "body", "design", "query", "path", "pluck", "push"}
    )
    out = []
    for e in errors:
        path = ".".join(str(p) for p in e["loc"] if not (isinstance(p, str) and p in kinds))
        ctx = e.get("ctx", {})
        limit = next(
            (ctx[k] for k in ("ge", "le", "gt", "lt", "expected", "max_length", "min_length") if k in ctx), ""
        )
        value = e.get("input", "")
        message = e["msg"].removeprefix("Value error, ").removeprefix("Input should be ")
        out.append(
            problem(
                path or "design",
                _OUTSIDE.get(e["type"])
                or (f"should be {message}" if "Input should be" in e["msg"] else message),
                value=value if isinstance(value, (str, int, float, bool)) else type(value).__name__,
                limit=limit,
                unit=_unit_at(path),
                remedy=_REMEDY.get(e["type"], "Correct the field."),
            )
        )
    return out


def _unit_at(path: str) -> str:
    """Unit of the last field named, found by its name in any part; names carry one unit throughout."""
    return _UNITS.get(path.rpartition(".")[2], "")


def _collect_units() -> dict[str, str]:
    units: dict[str, str] = {}
    queue: list[type[Part]] = [
        AxisDesign,
        Aim,
        Assumptions,
        Extra,
        Guide,
        Mass,
        *STAGES.values(),
        *ENDS.values(),
    ]
    seen: set[type[Part]] = set()
    while queue:
        model = queue.pop()
        if model in seen:
            continue
        seen.add(model)
        for name, info in model.model_fields.items():
            if isinstance(info.json_schema_extra, dict) and info.json_schema_extra.get("unit"):
                units[name] = str(info.json_schema_extra["unit"])
            if isinstance(info.annotation, type) and issubclass(info.annotation, Part):
                queue.append(info.annotation)
    return units


_UNITS = _collect_units()


def design_from(data: Any) -> AxisDesign:
    """Read a design from plain data; EntryError names every field that cannot be.

    >>> design_from({"format": "something else"})
    Traceback (most recent call last):
    ...
    crisp_cadence.core.ledger.errors.EntryError: format: this is not a Crisp Cadence axis
    """
    if not isinstance(data, dict):
        raise EntryError(
            [
                problem(
                    "design",
                    "is not an object with fields",
                    value=type(data).__name__,
                    limit=FORMAT,
                    remedy="Open a design file written by this program.",
                )
            ]
        )
    if data.get("format", FORMAT) != FORMAT:
        raise EntryError(
            [
                problem(
                    "format",
                    "this is not a Crisp Cadence axis",
                    value=data["format"],
                    limit=FORMAT,
                    remedy="Open a design file written by this program.",
                )
            ]
        )
    not_newer(data, VERSION)
    try:
        return AxisDesign.model_validate(data)
    except ValidationError as error:
        raise EntryError(findings(error.errors(include_url=False))) from None


def not_newer(data: Mapping[str, Any], known: int) -> None:
    """EntryError for what a newer version of the program has written."""
    version = data.get("version", known)
    if isinstance(version, int) and not isinstance(version, bool) and version > known:
        raise EntryError(
            [
                problem(
                    "version",
                    "was written by a newer version of this program",
                    value=version,
                    limit=known,
                    remedy="Open it with the newer program; nothing was changed.",
                )
            ]
        )


def parse_design(text: bytes) -> AxisDesign:
    """Read a design file; EntryError or TooLargeError says what is wrong with it."""
    return design_from(read_json(text, "design", LARGEST_FILE, FORMAT))


def read_json(text: bytes, what: str, largest: int, limit: str) -> Any:
    """Plain data out of a file's text; EntryError or TooLargeError says what is wrong with it."""
    if len(text) > largest:
        raise TooLargeError(f"The file has {len(text):,} bytes; a {what} has at most {largest:,}.")

    def constant(name: str) -> float:
        raise EntryError(
            [
                problem(
                    what,
                    "holds a number that is none",
                    value=name,
                    limit="finite numbers",
                    remedy="Replace it by an ordinary number.",
                )
            ]
        )

    try:
        return json.loads(text, parse_constant=constant)
    except (ValueError, RecursionError) as error:
        says = show(str(error), 120)
        raise EntryError(
            [
                problem(
                    what,
                    f"is not readable as JSON ({says})",
                    limit=limit,
                    remedy="Take an unbroken copy of the file.",
                )
            ]
        ) from None


def changed(design: AxisDesign, changes: Mapping[str, Any]) -> AxisDesign:
    """The design with fields set by path; EntryError when the result cannot be.

    >>> d = design_from({"chain": [{"kind": "stepper"}], "end": {"kind": "carriage_loop"}})
    >>> changed(d, {"end.pulley.teeth": 16}).end.pulley.teeth
    16
    """
    data = design.model_dump(mode="json")
    for path, value in changes.items():
        *way, last = (int(step) if step.isdigit() else step for step in path.split("."))
        here: Any = data
        for name in way:
            here = here[name]
        here[last] = deepcopy(value)  # a later path may lead into it
    return design_from(data)


def as_measured(design: AxisDesign) -> AxisDesign:
    """The design with every measured dimension in place of the drawn one; EntryError names a measurement that
    cannot be.
    """
    if not design.measured:
        return design
    data = design.model_dump(mode="json")
    for i, found in enumerate(design.measured):
        here: Any = data
        *way, last = found.field.split(".")
        try:
            for key in way:
                here = here[int(key)] if isinstance(here, list) else here[key]
            drawn = here[last] if isinstance(here, dict) else None
        except (KeyError, IndexError, ValueError, TypeError):
            here, drawn = None, None
        if not isinstance(here, dict) or last not in here or isinstance(drawn, (bool, str, list, dict)):
            raise EntryError(
                [
                    problem(
                        f"measured.{i}.field",
                        "is not a dimension of this design any more",
                        value=found.field,
                        remedy="Drop this measurement, or measure the new part.",
                    )
                ]
            )
        here[last] = int(found.value) if isinstance(drawn, int) and found.value.is_integer() else found.value
    return design_from(data)


def dump_design(design: AxisDesign) -> str:
    """Write a design as the text of its file; reading it back gives the same design."""
    return json.dumps(design.model_dump(mode="json"), ensure_ascii=False, indent=2) + "\n"


def design_schema() -> dict[str, Any]:
    """JSON Schema of the design file, version 1."""
    schema = AxisDesign.model_json_schema(mode="validation")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": "crisp-cadence/axis/1",
        **schema,
    }
