"""What a machine is beside its axes: own steps, what was bought and when it comes; and the machine as a
file.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field, ValidationError, field_validator, model_validator

from ..design.design import MOST_VALUES, AxisDesign, bounded, findings, not_newer, read_json, sound_extras
from ..design.riding import beneath
from ..fields.axis import MOST_RIDING
from ..fields.part import DAY, Part, num, words
from ..fields.rows import Row, Rows
from ..ledger.errors import EntryError, Problem, problem, show

P = TypeVar("P", bound=Part)
FORMAT = "crisp-cadence/machine"
VERSION = 1
LARGEST_MACHINE = 16_000_000  # bytes
MOST_AXES = 40

# Lines of the bill that had other names before their parts were parts of their own.
LINES_BEFORE = {"sides": "sides.shaft", "aim.brake_n": "aim.brake"}

MaybeDay = Annotated[str, Field(pattern=DAY, strict=True)]
# A step of an axis ("axis:step"), one of the machine's own (":step"), or a line of an axis' bill
# ("axis:field").
Ref = Annotated[str, Field(max_length=200, pattern=r"^[^:]{0,80}:[^:]{1,120}$", strict=True)]


class OwnStep(Part):
    """A step of the maker's own, anywhere in the order of the machine."""

    key: str = Field(title="Key", pattern=r"^[a-z0-9_]{1,60}$", strict=True)
    do: str = Field(title="What is done", min_length=1, max_length=600, strict=True)
    check: str = words("How it is checked", longest=600)
    after: list[Ref] = Field([], title="After these steps", max_length=60)
    before: list[Ref] = Field([], title="Before these steps", max_length=60)
    covers: list[Ref] = Field([], title="Covers what these steps need", max_length=60)
    done: MaybeDay = Field("", title="Done on")


class Moved(Row):
    """A step that the maker has put before another one."""

    step: Ref
    before: Ref


class Share(Part):
    """What of a purchase goes to one line of a bill."""

    line: Ref
    quantity: float = num("How many of it", "number", "", 1e-6, 1e6, 1.0)

    @field_validator("line", mode="before")
    @classmethod
    def _lines_had_other_names(cls, line: Any) -> Any:
        axis, colon, field = line.partition(":") if isinstance(line, str) else ("", "", "")
        return f"{axis}:{LINES_BEFORE[field]}" if colon and field in LINES_BEFORE else line


class Shop(Part):
    """Where parts are ordered: how long a parcel takes, and what it costs to send."""

    name: str = Field(title="Shop", min_length=1, max_length=80, strict=True)
    days: int = num("Days until it comes", "count", "", 0, 400, 7)
    freight: float = num("Freight of a parcel", "money", "", 0, 1e6, 0.0)


class Purchase(Row):
    """Something that was ordered: a part, a pack or a kit, with what of it goes where, its price and
    its days.
    """

    what: str = Field(title="What", min_length=1, max_length=200, strict=True)
    shop: str = words("From", longest=80)
    shares: list[Share] = Field([], title="For these lines", max_length=200)
    holds: float | None = num(
        "Pieces in the pack", "number", "", 1e-6, 1e6, None, "Empty: as many as go to the lines."
    )
    price: float = num("Price of it all", "money", "", 0, 1e7, 0.0)
    freight: float = num("Freight and fees", "money", "", 0, 1e6, 0.0)
    ordered: MaybeDay = Field("", title="Ordered on")
    due: MaybeDay = Field("", title="Due on")
    arrived: MaybeDay = Field("", title="Arrived on")
    paid: MaybeDay = Field("", title="Paid on", description="Empty: on the day of the order.")
    checked: bool = Field(False, title="Checked", strict=True)
    spare: bool = Field(False, title="A spare", strict=True)

    @property
    def state(self) -> Literal["checked", "arrived", "due", "ordered", "wanted"]:
        """How far it has come."""
        if self.arrived:
            return "checked" if self.checked else "arrived"
        return "due" if self.due else "ordered" if self.ordered else "wanted"


class Length(Row):
    """Lengths of one kind that can be bought to cut pieces from."""

    of: str = Field(title="Of what", min_length=1, max_length=120, strict=True)
    length_mm: float = num("Length", "length", "mm", 1, 60_000, 1000.0)
    count: int = num("How many", "count", "", 1, 200, 4)
    price: float | None = num("Price each", "money", "", 0, 1e6, None)


class Place(Part):
    """Where an axis lies: the middle of its carriage from the middle of the carriage beneath, both in mid
    travel, or from the machine's zero; and how large the carriage is with all that sticks out.
    """

    x_mm: float = num("x", "length", "mm", -60_000, 60_000, 0.0)
    y_mm: float = num("y", "length", "mm", -60_000, 60_000, 0.0)
    z_mm: float = num("z", "length", "mm", -60_000, 60_000, 0.0)
    wide_mm: float | None = num(
        "Carriage, across the travel", "length", "mm", 1, 20_000, None, "Level. Empty: as it is drawn."
    )
    high_mm: float | None = num(
        "Carriage, the third way", "length", "mm", 1, 20_000, None, "Its height, unless it goes upwards."
    )


class Body(Row):
    """A thing that takes up room: a column, a frame member, a tool; as a box around it."""

    label: str = Field(title="What", min_length=1, max_length=80, strict=True)
    on: str = words("Moves with", "", 80, "An axis of the machine; empty: it stands still.")
    x_mm: float = num(
        "x", "length", "mm", -60_000, 60_000, 0.0, "Its middle from that of the carriage, or from zero."
    )
    y_mm: float = num("y", "length", "mm", -60_000, 60_000, 0.0)
    z_mm: float = num("z", "length", "mm", -60_000, 60_000, 0.0)
    long_mm: float = num("Size along x", "length", "mm", 0.1, 60_000, 30.0)
    wide_mm: float = num("Size along y", "length", "mm", 0.1, 60_000, 30.0)
    high_mm: float = num("Size along z", "length", "mm", 0.1, 60_000, 30.0)


class MachinePlan(Part):
    """Everything of a machine beside its axes."""

    currency: str = words("Counted in", "€", 8)
    budget: float | None = num("Budget", "money", "", 0, 1e8, None)
    along: dict[str, Literal["x", "y", "z"]] = Field(
        {}, title="Which way each axis goes", max_length=MOST_VALUES
    )
    placed: dict[str, Place] = Field({}, title="Where each axis lies", max_length=MOST_VALUES)
    bodies: Rows[Body] = Field([], title="What takes up room", max_length=60)
    apart_mm: float = num("Least room wanted between them", "length", "mm", 0, 1000, 5.0)
    own: list[OwnStep] = Field([], title="Own steps", max_length=200)
    moved: Rows[Moved] = Field([], title="Steps put before others", max_length=200)
    shops: list[Shop] = Field([], title="Shops", max_length=60)
    bought: Rows[Purchase] = Field([], title="What was ordered", max_length=1000)
    lengths: Rows[Length] = Field([], title="Lengths to cut from", max_length=200)
    kerf_mm: float = num("Lost in a cut", "length", "mm", 0, 20, 2.0, "Width of the saw; a knife takes none.")
    left_long_mm: float = num(
        "Rails, rods and racks are cut longer by", "length", "mm", 0, 200, 2.0, "Trimmed after measuring."
    )

    @model_validator(mode="before")
    @classmethod
    def _is_bounded(cls, data: Any) -> Any:
        bounded(data, MOST_VALUES * MOST_AXES)
        return data

    @model_validator(mode="after")
    def _unknown_fields_are_sound(self) -> MachinePlan:
        sound_extras(self)
        return self

    @model_validator(mode="after")
    def _days_follow(self) -> MachinePlan:
        keys = [s.key for s in self.own]
        for i, key in enumerate(keys):
            if key in keys[:i]:
                raise ValueError(
                    f"own.{i}.key: another step is called {key} already; call this one otherwise"
                )
        shops = [s.name for s in self.shops]
        for i, name in enumerate(shops):
            if name in shops[:i]:
                raise ValueError(f"shops.{i}.name: {name} is listed already; change that one")
        for i, p in enumerate(self.bought):
            for later, day in (("due", p.due), ("arrived", p.arrived)):
                if day and day < p.ordered:
                    raise ValueError(
                        f"bought.{i}.{later}: {p.what} would be {later} on {day}, before it was ordered on "
                        f"{p.ordered}; correct one of the days"
                    )
            if p.holds is not None and p.shares and sum(s.quantity for s in p.shares) > p.holds * (1 + 1e-9):
                raise ValueError(
                    f"bought.{i}.shares: more is shared out of {p.what} than it holds ({p.holds:g}); "
                    f"take a larger pack or share out less"
                )
        return self


class MachineAxis(Part):
    """An axis of a machine's file: its design, and what it rides on."""

    key: str = Field(title="Key", pattern=r"^[^:]{1,80}$", strict=True)
    rides_on: str = words("Rides on", longest=80)
    design: AxisDesign


class MachineFile(MachinePlan):
    """A whole machine, as it goes out and comes back."""

    format: Literal["crisp-cadence/machine"] = "crisp-cadence/machine"
    version: Literal[1] = 1
    name: str = Field("Machine", title="Name", min_length=1, max_length=120, strict=True)
    note: str = words("Note", longest=4000)
    axes: list[MachineAxis] = Field([], title="Axes")

    @model_validator(mode="after")
    def _axes_ride(self) -> MachineFile:
        under = {a.key: a.rides_on or None for a in self.axes}
        if len(under) < len(self.axes):
            raise ValueError("axes: two axes have one key; give each its own")
        for i, axis in enumerate(self.axes):
            if axis.rides_on and axis.rides_on not in under:
                raise ValueError(
                    f"axes.{i}.rides_on: {show(axis.rides_on)} is no axis of this machine; name one of "
                    f"{', '.join(under)} or leave it empty"
                )
            if beneath(under, axis.key)[1]:
                raise ValueError(
                    f"axes.{i}.rides_on: it goes round in a circle; let one of them ride on none"
                )
            if list(under.values()).count(axis.key) > MOST_RIDING:
                raise ValueError(f"axes.{i}: more than {MOST_RIDING} axes ride on it; let fewer ride on it")
        return self


def machine_from(data: Any) -> MachineFile:
    """Read a machine from plain data; EntryError names every field that cannot be."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        found = data.get("format", "nothing") if isinstance(data, dict) else type(data).__name__
        raise EntryError(
            [
                problem(
                    "format",
                    "this is no machine of Crisp Cadence",
                    value=found if isinstance(found, str) else type(found).__name__,
                    limit=FORMAT,
                    remedy="Open a machine's file; an axis' file is opened on its machine.",
                )
            ]
        )
    not_newer(data, VERSION)
    machine = _valid(MachineFile, data)
    room_on(len(machine.axes))
    return machine


def room_on(axes: int) -> None:
    """EntryError where a machine would have more axes than it may: asked of every way in, never of what
    stands.
    """
    if axes > MOST_AXES:
        raise EntryError(
            [
                problem(
                    "axes",
                    "would be more than a machine may have",
                    value=axes,
                    limit=MOST_AXES,
                    remedy="Put it on another machine, or take an axis off this one first.",
                )
            ]
        )


def plan_from(data: Any) -> MachinePlan:
    """Read what is beside the axes; EntryError names every field that cannot be."""
    return _valid(MachinePlan, data)


def _valid(kind: type[P], data: Any) -> P:
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        raise EntryError(told(findings(error.errors(include_url=False)))) from None


def told(found: list[Problem]) -> list[Problem]:
    """Findings of the whole, each at the field that it names, with its remedy."""
    out = []
    for p in found:
        field, colon, rest = p.message.partition(": ")
        says, _, remedy = rest.rpartition("; ")
        if colon and says and " " not in field:
            out.append(problem(field, says, remedy=remedy[0].upper() + remedy[1:] + "."))
        else:
            out.append(p)
    return out


def parse_machine(text: bytes) -> MachineFile:
    """Read a machine's file; EntryError or TooLargeError says what is wrong with it."""
    return machine_from(read_json(text, "machine", LARGEST_MACHINE, FORMAT))


def dump_machine(machine: MachineFile) -> str:
    """Write a machine as the text of its file; reading it back gives the same machine."""
    return json.dumps(machine.model_dump(mode="json"), ensure_ascii=False, indent=2) + "\n"


def machine_schema() -> dict[str, Any]:
    """The published JSON Schema of the machine's file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **MachineFile.model_json_schema(mode="validation"),
    }


def renamed(plan: MachinePlan, keys: Mapping[str, str]) -> MachinePlan:
    """The plan with other keys for its axes; what belongs to an axis that is not among them goes."""

    def ref(old: str) -> str | None:
        axis, _, rest = old.partition(":")
        return f":{rest}" if not axis else f"{keys[axis]}:{rest}" if axis in keys else None

    def refs(old: list[str]) -> list[str]:
        return [new for new in map(ref, old) if new is not None]

    own = [
        s.model_copy(update={name: refs(getattr(s, name)) for name in ("after", "before", "covers")})
        for s in plan.own
    ]
    moved = [
        m.model_copy(update={"step": step, "before": before})
        for m in plan.moved
        if (step := ref(m.step)) is not None and (before := ref(m.before)) is not None
    ]
    bought = [
        p.model_copy(
            update={
                "shares": [
                    s.model_copy(update={"line": line}) for s in p.shares if (line := ref(s.line)) is not None
                ]
            }
        )
        for p in plan.bought
    ]
    along = {keys[a]: way for a, way in plan.along.items() if a in keys}
    placed = {keys[a]: place for a, place in plan.placed.items() if a in keys}
    bodies = [
        b.model_copy(update={"on": keys[b.on] if b.on else ""})
        for b in plan.bodies
        if not b.on or b.on in keys
    ]
    return plan.model_copy(
        update={
            "own": own,
            "moved": moved,
            "bought": bought,
            "along": along,
            "placed": placed,
            "bodies": bodies,
        }
    )


def plan_of(machine: MachineFile) -> MachinePlan:
    """What a file holds beside the axes, with the fields that this version does not know."""
    inside = set(MachineFile.model_fields) - set(MachinePlan.model_fields)
    return MachinePlan.model_validate(machine.model_dump(mode="json", exclude=inside))


def lowest_first(machine: MachineFile) -> Iterator[MachineAxis]:
    """The axes, each before those that ride on it."""
    under = {a.key: a.rides_on or None for a in machine.axes}
    yield from sorted(machine.axes, key=lambda a: len(beneath(under, a.key)[0]))
