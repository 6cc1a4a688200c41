"""What an axis is for and what it is built into: aim, masses, heads, guide, sides, stand, assumptions."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .part import DAY, SHAFTS, Bought, Part, Source, choice, num, piece, words
from .rows import Row, Rows

MASS_LIMIT_KG = 2000
MOST_ALIKE = 1000
MOST_RIDING = 60  # loads entered by hand and axes that ride, together


class Mass(Row):
    """One thing that moves."""

    label: str = words("What moves", "Carriage")
    mass_kg: float = num(
        "Mass each", "mass", "kg", 0, MASS_LIMIT_KG, 0.5, "Weigh it if you can; a kitchen scale does."
    )
    quantity: int = num("How many", "count", "", 0, MOST_ALIKE, 1)
    source: Source = Source()


class Head(Row):
    """What the axis carries on one day and not on another: a load case."""

    label: str = words("Head", "Head")
    mass_kg: float = num("Mass", "mass", "kg", 0, 2000, 0.5)
    push_n: float | None = num(
        "Push against", "force", "N", 0, 20_000, None, "Leave empty for the aim's own push."
    )


# Friction of guides by their kind, loaded (common practice)
GUIDE_FRICTION = {"wheels": 0.02, "linear rail": 0.01, "plain": 0.2}
GANTRIES = ("two motors", "cross shaft", "one driven")


def _with_price(data: Any, old: str, part: str) -> Any:
    """Data of a file from before that part was one of the bill's, when only its price stood there."""
    if not isinstance(data, dict) or old not in data:
        return data
    price = data[old]
    rest = {name: value for name, value in data.items() if name != old}
    return rest if price is None else {part: {"price": price}, **rest}


class Sides(Part):
    """How a gantry is driven on its two sides."""

    FIRST = ("kind", "width_mm", "offset_mm", "guided_by")

    kind: Literal["one", "two motors", "cross shaft", "one driven"] = choice(
        "Driven sides",
        "one",
        "Two motors: no twist, twice the drive. Cross shaft: one motor, some twist. One side driven: "
        "cheap, and the guides must hold it square.",
    )
    width_mm: float = num(
        "Between the sides",
        "length",
        "mm",
        10,
        20_000,
        600.0,
        "From belt to belt, or from rail to rail.",
        only=GANTRIES,
    )
    offset_mm: float = num(
        "Load off the middle",
        "length",
        "mm",
        0,
        10_000,
        100.0,
        "Where mass and push act, at worst, from the middle between the sides.",
        only=GANTRIES,
    )
    guide_length_mm: float = num(
        "Length of a guide",
        "length",
        "mm",
        5,
        5000,
        100.0,
        "From first to last wheel or block on one side.",
        only=("one driven",),
    )
    guided_by: Literal["driven rail", "both rails", "far rail"] = choice(
        "Which rail guides",
        "both rails",
        "The one that keeps the beam straight; best the driven one, with the far one floating.",
        only=("one driven",),
    )
    guide_friction: float | None = num(
        "Friction of the guides",
        "number",
        "",
        0.001,
        1,
        None,
        "Wheels roll with 0.01 to 0.03, plain guides slide with 0.1 to 0.3. Empty: by the guide's kind.",
        only=("one driven",),
    )
    shaft_mm: float = num("Cross shaft", "length", "mm", 1, 200, 8.0, sizes=SHAFTS, only=("cross shaft",))
    coupler_nm_rad: float | None = num(
        "Stiffness of each coupler",
        "torsional stiffness",
        "N·m/rad",
        0.1,
        1e8,
        None,
        "Leave empty for solid couplers.",
        only=("cross shaft",),
    )
    shaft: Bought = Field(Bought(), title="Shaft and couplers, as bought", json_schema_extra={"hidden": True})

    @model_validator(mode="before")
    @classmethod
    def _price_had_a_field(cls, data: Any) -> Any:
        return _with_price(data, "shaft_price", "shaft")


class Extra(Bought, Row):
    """Anything else on the bill."""

    quantity: int = num("How many", "count", "", 0, 10000, 1)


class Aim(Part):
    """What the axis is for."""

    purpose: str = words("What it is for", longest=400)
    travel_mm: float = num("Travel wanted", "length", "mm", 1, 50_000, 500.0)
    speed_mm_s: float = num("Speed", "speed", "mm/s", 0.01, 20_000, 200.0)
    acceleration_mm_s2: float = num(
        "Acceleration",
        "acceleration",
        "mm/s²",
        1,
        200_000,
        1000.0,
        "If you don't know: 1000 for light carriages, 200 for heavy or slow ones; it sets the force.",
    )
    push_n: float = num(
        "Push against", "force", "N", 0, 20_000, 0.0, "Force of the tool or the work along the travel."
    )
    push_speed_mm_s: float = num(
        "Speed while pushing",
        "speed",
        "mm/s",
        0.01,
        20_000,
        20.0,
        "Feed at which the tool works; the speed above is for moving without load.",
    )
    hold_n: float = num(
        "Hold against, standing",
        "force",
        "N",
        0,
        20_000,
        0.0,
        "What leans on it while it stands, beyond its own weight on a slope.",
    )
    slope_deg: float = num("Slope", "angle", "°", 0, 90, 0.0, "0 lies level, 90 stands upright.")
    counterweight_kg: float | None = num(
        "Counterweight", "mass", "kg", 0.001, 2000, None, "Over a pulley, moving as fast the other way."
    )
    brake_n: float | None = num(
        "Brake holds, at the moving point",
        "force",
        "N",
        0.01,
        1e5,
        None,
        "One that closes when the power goes; through a chain its torque times radians per millimetre.",
    )
    brake: Bought = Field(Bought(), title="Brake, as bought", json_schema_extra={"hidden": True})
    resolution_mm: float = num(
        "Smallest step wanted",
        "length",
        "mm",
        0.0001,
        100,
        0.1,
        "As fine as you would notice: 0.1 for plotting and cutting, 0.02 for milling.",
    )
    error_mm: float = num(
        "Error allowed",
        "length",
        "mm",
        0.0001,
        100,
        0.3,
        "At the work: give, whip and lost motion each must stay inside it.",
    )
    stroke_mm: float | None = num(
        "Stroke that it goes to and fro",
        "length",
        "mm",
        0.01,
        50_000,
        None,
        "Short strokes at full pace shake it more. Empty: the whole travel.",
    )
    budget: float | None = num(
        "Budget",
        "money",
        "",
        0,
        1e7,
        None,
        "Leave empty for none; what is still to spend is held against it.",
    )
    currency: str = words("Currency", "€", 6)
    price_factor: float = num(
        "Typical prices times",
        "number",
        "",
        0.01,
        100_000,
        1.0,
        "Parts without a price of yours count with a typical one, in € of 2026; this turns it into your "
        "currency, and into what your shops ask.",
    )

    @model_validator(mode="before")
    @classmethod
    def _price_had_a_field(cls, data: Any) -> Any:
        return _with_price(data, "brake_price", "brake")


class Guide(Part):
    """Rail and what runs on it."""

    FIRST = ("kind", "rail_mm")

    kind: Literal["wheels", "linear rail", "plain"] = choice(
        "Guide", "wheels", "Wheels are enough where the tool floats; a linear rail where it pushes."
    )
    rail_mm: float = num("Rail length", "length", "mm", 10, 60_000, 700.0)
    carriage_mm: float = num(
        "Carriage length", "length", "mm", 5, 5000, 80.0, "Along the rail, with what sticks out at its ends."
    )
    near_mm: float = num("Taken up at the motor end", "length", "mm", 0, 5000, 20.0)
    far_mm: float = num("Taken up at the far end", "length", "mm", 0, 5000, 20.0)
    overtravel_mm: float = num(
        "Over-travel at each switch", "length", "mm", 0, 1000, 5.0, "Kept free behind each end switch."
    )
    friction: float | None = num(
        "Friction",
        "number",
        "",
        0,
        1,
        None,
        "Wheels and rails 0.01 to 0.03, plain guides 0.1 to 0.3. Empty: by the kind of guide.",
    )
    drag_n: float = num(
        "Drag of seals and preload", "force", "N", 0, 5000, 2.0, "Pull the carriage with a kitchen scale."
    )


# Second moment of slotted aluminium rails in mm⁴, from memory; makes differ by a fifth.
RAILS = {
    "20 × 20": 7_000.0,
    "20 × 40 flat": 14_000.0,
    "20 × 40 upright": 46_000.0,
    "30 × 30": 28_000.0,
    "40 × 40": 90_000.0,
    "40 × 80 flat": 170_000.0,
    "40 × 80 upright": 620_000.0,
}


class Stand(Part):
    """Wheels, rail and stand: what carries the moving part. Fields left empty are not checked."""

    FIRST = ("wheels", "wheel_limit_n", "rail_span_mm", "stand_kg")

    wheels: int = num("Wheels of the carriage", "count", "", 2, 32, 4)
    wheel_base_mm: float = num("Between the wheel pairs", "length", "mm", 5, 5000, 60.0)
    height_mm: float = num(
        "Mass above the wheels", "length", "mm", 0, 5000, 40.0, "Height at which mass and belt act."
    )
    preload_n: float = num(
        "Preload of a wheel", "force", "N", 0, 5000, 5.0, "By the eccentrics; feel, not force, sets it."
    )
    wheel_limit_n: float | None = num(
        "Load limit of a wheel",
        "force",
        "N",
        1,
        1e5,
        None,
        "On the wheel's sheet; leave empty and it is not checked.",
    )
    play_mm: float = num(
        "Play of the guide at the tool",
        "length",
        "mm",
        0,
        10,
        0.0,
        "Push the carriage both ways by hand and read a dial gauge at the tool.",
    )
    rail_span_mm: float | None = num(
        "Rail between its supports",
        "length",
        "mm",
        10,
        20_000,
        None,
        "Leave empty for a rail that lies on its base.",
    )
    rail_supports: Literal["at both ends", "several supports", "overhung"] = choice(
        "Rail stands", "at both ends", "Overhung: how far it reaches beyond its last support."
    )
    rail_section: Literal[
        "20 × 20",
        "20 × 40 flat",
        "20 × 40 upright",
        "30 × 30",
        "40 × 40",
        "40 × 80 flat",
        "40 × 80 upright",
        "another",
    ] = choice(
        "Section of the rail",
        "another",
        "Slotted aluminium; its second moment comes with it.",
        carries={name: {"rail_second_moment_mm4": mm4} for name, mm4 in RAILS.items()},
    )
    rail_second_moment_mm4: float = num(
        "Second moment of the rail",
        "number",
        "mm⁴",
        1,
        1e9,
        7000.0,
        "About 7000 for a 20 × 20 slotted rail (estimate).",
    )
    rail_youngs_gpa: float = num(
        "Rail's modulus", "number", "GPa", 0.5, 400, 69.0, "Aluminium 69, steel 205."
    )
    stand_kg: float | None = num(
        "Mass of the stand", "mass", "kg", 0.1, 10_000, None, "Leave empty where it cannot tip."
    )
    foot_mm: float = num("Length of the foot", "length", "mm", 10, 20_000, 400.0)
    beyond_mm: float | None = num(
        "Carriage beyond the foot",
        "length",
        "mm",
        0,
        20_000,
        None,
        "At the end of its travel. Empty: the middle of the travel stands over the middle of the foot.",
    )


# How well a switch trips at the same place, mm: estimates, makers say more or less.
SWITCHES = {"lever": 0.05, "inductive": 0.02, "optical": 0.02, "Hall": 0.03}


class Switches(Part):
    """End switches, and how zero is found."""

    FIRST = ("home", "kind", "speed_mm_s")

    home: Literal["motor end", "far end", "no switch"] = choice(
        "Zero is found at", "motor end", "Without a switch zero is set by hand each time."
    )
    kind: Literal["lever", "inductive", "optical", "Hall"] = choice(
        "Switch",
        "lever",
        "How well it comes again goes with it (estimates).",
        carries={name: {"repeat_mm": mm} for name, mm in SWITCHES.items()},
    )
    repeat_mm: float = num("Trips again within", "length", "mm", 0, 5, SWITCHES["lever"], "Estimate.")
    speed_mm_s: float = num(
        "Homing speed, last approach", "speed", "mm/s", 0.1, 5000, 10.0, "Fast there, back off, slowly again."
    )
    period_ms: float = num(
        "Controller looks every",
        "number",
        "ms",
        0.001,
        1000,
        1.0,
        "One that is told by the switch looks at once.",
    )


BEFORE, PLATES = "before the trial", "plates first"


class Schools(Part):
    """Where makers differ in the order of work."""

    threadlock: Literal["after the trial", "before the trial"] = choice(
        "Threadlock",
        "after the trial",
        "After: what is out of line is still moved easily, and every screw is taken out once more. Before: "
        "no screw works loose on the first run, and each that has to be moved is cleaned first.",
    )
    first: Literal["rails first", "plates first"] = choice(
        "Begun with",
        "rails first",
        "Rails first: the plates are set to where the carriage really runs. Plates first: the drive is built "
        "on the bench, with room for the tools, and the rail is set to it.",
    )


class Assumptions(Part):
    """Everything taken for granted, each open to change."""

    efficiency_loop: float = num(
        "Efficiency of the belt loop", "number", "", 0.3, 1, 0.95, "Common practice, 0.95 to 0.98."
    )
    damping: float = num(
        "Damping ratio", "number", "", 0, 0.9, 0.05, "Estimate for belts and bolted frames, 0.02 to 0.1."
    )
    slack_keep: float = num(
        "Kept on the slack run",
        "number",
        "of F",
        0,
        1,
        0.2,
        "Against tooth jump, 0.1 to 0.2 of the peak force.",
    )
    strain_limit: float = num(
        "Cord strain limit",
        "share",
        "%",
        0.02,
        2,
        0.3,
        "0.2 to 0.4 %, from memory; only where no rating of the cords is known.",
    )
    frame: Literal["aluminium", "steel", "wood"] = choice(
        "Frame that the belts span", "aluminium", "Frame and cords grow apart with warmth."
    )
    warmth_k: float = num(
        "Warmer and colder by", "number", "K", 0, 100, 10.0, "Than on the day that a belt's tension is set."
    )
    teeth_full: int = num(
        "Teeth wanted in mesh", "count", "", 1, 20, 6, "From six on the belt carries in full."
    )
    tilt_limit: float = num(
        "Tilt allowed", "angle", "°", 0.01, 5, 0.25, "A quarter degree; handbooks, from memory."
    )
    mesh_give_mm: float = num(
        "Teeth give at rated pull",
        "length",
        "mm",
        1e-6,
        1,
        0.07,
        "The teeth of a belt on one pulley, 0.06 to 0.08 mm at the pull that they are rated for (estimate).",
    )
    bearing_depth_mm: float = num(
        "Motor's front bearing behind its face", "length", "mm", 1, 100, 10.0, "Estimate."
    )
    bearing_life_h: float = num(
        "Bearings are to last", "number", "h", 10, 1e6, 2000.0, "An hour a day for five years and more."
    )
    margin_torque: float = num(
        "Margin on motor torque", "number", "×", 1, 5, 1.5, "Open-loop steppers 1.5 to 2, common practice."
    )
    margin_belt: float = num(
        "Margin on belt pull", "number", "×", 1, 5, 1.3, "Service factor for frequent reversals, from memory."
    )
    margin_grip: float = num(
        "Margin on hub grip", "number", "×", 1, 10, 2.0, "Screws settle; common practice."
    )
    margin_error: float = num("Margin on error", "number", "×", 1, 5, 1.25, "Estimate.")
    margin_other: float = num("Margin elsewhere", "number", "×", 1, 5, 1.1, "Estimate.")


class Measured(Part):
    """A dimension of the design as it was found on the real thing; it counts instead of what was drawn."""

    field: str = words("Field", longest=120)
    value: float = num("Measured", "number", "", -1e9, 1e9)


class Made(Part):
    """A piece that is cut, bored or bought to a number of the report as it stood that day."""

    key: str = words("Number", longest=120)
    label: str = words("What was made", longest=200)
    value: float = num("Made at", "number", "", -1e9, 1e9)


class Tick(Part):
    """A step of work that is done: on which day, and how what it rests on stood then (a fingerprint of each
    part, the value of each figure), so that a later change shows.
    """

    step: str = words("Step", longest=60)
    day: str = Field("", title="Done on", pattern=DAY, strict=True)
    stood: dict[str, str] = Field({}, title="What it rested on", max_length=40)


class Axis(Part):
    """One axis: its aim, its guide, what moves, the chain from motor to end, what else is bought, and what is
    assumed.

    What stands in the chain and at its end is open here; the design (`design/design.py`) says which kinds
    there are.
    """

    format: Literal["crisp-cadence/axis"] = "crisp-cadence/axis"
    version: Literal[1] = 1
    name: str = words("Name", "New axis", 120)
    note: str = words("Note", longest=4000)
    aim: Aim = piece(Aim(), "aim")
    guide: Guide = piece(Guide(), "aim")
    stand: Stand = piece(Stand(), "aim")
    sides: Sides = piece(Sides(), "aim")
    moving: Rows[Mass] = Field(
        [Mass(id="0")], title="What moves", max_length=60, json_schema_extra={"step": "aim"}
    )
    heads: Rows[Head] = Field(
        [], title="Heads, one at a time", max_length=8, json_schema_extra={"step": "aim"}
    )
    riding: Rows[Mass] = Field(
        [], title="What rides on this axis", max_length=MOST_RIDING, json_schema_extra={"step": "aim"}
    )
    still: Rows[Mass] = Field(
        [], title="What stands still on this axis", max_length=60, json_schema_extra={"step": "aim"}
    )
    chain: list[Any]
    end: Any
    extras: Rows[Extra] = Field([], title="Also to buy", max_length=200, json_schema_extra={"step": "build"})
    assumptions: Assumptions = piece(Assumptions(), "aim")
    switches: Switches = piece(Switches(), "build")
    schools: Schools = piece(Schools(), "build")
    measured: list[Measured] = Field([], title="Measured on the real thing", max_length=200)
    made: list[Made] = Field([], title="Already cut or made", max_length=200)
    done: list[Annotated[str, Field(max_length=60, strict=True)] | Tick] = Field(
        [], title="Steps of work that are done", max_length=200, description="By key, or with the day."
    )
    chosen: list[Annotated[str, Field(max_length=120, strict=True)]] = Field(
        [],
        title="Fields that somebody has chosen",
        max_length=2000,
        description="Paths. A value that stands as the layout began is assumed until it is among these.",
    )

    def ticks(self) -> dict[str, Tick]:
        """The steps that are done, by key."""
        return {t.step: t for t in (Tick(step=d) if isinstance(d, str) else d for d in self.done)}
