"""Base of everything that stands in a design file: strict numbers with their unit, limits and words; unknown
fields kept.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

SourceKind = Literal[
    "standard", "handbook", "common practice", "from memory", "estimate", "measured by you", "your entry"
]


class Part(BaseModel):
    """A piece of a design. Frozen; fields that this version does not know are kept and written back."""

    model_config = ConfigDict(
        extra="allow", frozen=True, ser_json_inf_nan="constants", protected_namespaces=()
    )


# Sizes that can be bought, for the fields that take one.
SHAFTS = (3, 4, 5, 6, 6.35, 8, 10, 12, 12.7, 14, 16, 20)
MODULES = (0.5, 0.8, 1, 1.25, 1.5, 2, 2.5, 3)


def num(
    title: str,
    dimension: str,
    unit: str,
    low: float,
    high: float,
    default: Any = ...,
    why: str = "",
    *,
    sizes: Sequence[float] = (),
    step: str = "",
    bill: bool = False,
) -> Any:
    """A number field: strict (no text, no true or false), finite, within physical limits, with its unit and
    words.

    `sizes` are those that can be bought; `step` is where it is decided, if not where its part is; `bill`
    tells what belongs to the bill.
    """
    more: dict[str, Any] = {"sizes": list(sizes), "step": step, "bill": bill}
    return Field(
        default,
        title=title,
        description=why,
        ge=low,
        le=high,
        strict=True,
        allow_inf_nan=False,
        json_schema_extra={
            "dimension": dimension,
            "unit": unit,
            **{name: value for name, value in more.items() if value},
        },
    )


def piece(default: Any, step: str) -> Any:
    """A part within a part, and the step on which it is decided; what it holds is decided there too, unless
    it says otherwise.
    """
    return Field(default, json_schema_extra={"step": step})


def words(title: str, default: str = "", longest: int = 200, why: str = "") -> Any:
    """A line of text."""
    return Field(default, title=title, description=why, max_length=longest, strict=True)


def choice(title: str, default: Any, why: str = "") -> Any:
    """A choice from a short list, given by the field's Literal type."""
    return Field(default, title=title, description=why)


class Source(Part):
    """Where a part's data come from."""

    kind: SourceKind = choice("Source", "estimate")
    note: str = words("Source note", longest=300)


class Bought(Part):
    """A part that costs money: what it is called, where it was picked, what it costs, and whether it lies in
    the drawer.
    """

    label: str = Field(
        "",
        title="Name",
        max_length=200,
        strict=True,
        description="What you call it; it goes on the bill.",
        json_schema_extra={"bill": True},
    )
    drawer_key: str | None = Field(
        None, title="Drawer row", max_length=80, json_schema_extra={"hidden": True}
    )
    price: float | None = num(
        "Price each", "money", "", 0, 1e6, None, "Leave empty if you don't know it yet.", bill=True
    )
    in_stock: bool = Field(False, title="In the drawer", strict=True, json_schema_extra={"bill": True})
    source: Source = Field(Source(), json_schema_extra={"hidden": True})


class Driver(Bought):
    """Supply and driver of a stepper."""

    supply_v: float = num(
        "Supply voltage",
        "voltage",
        "V",
        1,
        400,
        24.0,
        "What the driver is fed with. Above 60 V DC it bites: keep to local rules.",
        sizes=(12, 24, 36, 48, 60),
    )
    current_a: float = num("Driver current", "current", "A", 0.01, 30, 1.5)
    current_is: Literal["rms", "peak"] = choice(
        "Current set in",
        "rms",
        "Many drivers are set in peak amperes, 1.41 times the rms: look in its sheet.",
    )
    microsteps: int = num(
        "Microsteps",
        "count",
        "",
        1,
        256,
        16,
        "Smoothness, not accuracy.",
        sizes=(1, 2, 4, 8, 16, 32, 64, 128, 256),
    )
    idle_percent: float = num(
        "Current when standing", "share", "%", 0, 100, 50.0, "Drivers cut the current when the axis stands."
    )
    step_rate_limit_hz: float = num(
        "Step rate limit",
        "frequency",
        "Hz",
        100,
        2e7,
        100_000.0,
        "The most steps a second that controller and driver manage.",
    )


CORD_FACTOR = {"glass": 1.0, "steel": 4.0}


class Belt(Bought):
    """A belt by profile, width and cord; measured values replace the catalogue's."""

    profile: str = words("Profile", "round-g-2", 40)
    width_mm: float = num("Width", "length", "mm", 1, 200, 6.0)
    cord: Literal["glass", "steel"] = choice(
        "Cord", "glass", "Steel is several times stiffer and wants larger pulleys."
    )
    ea_n: float | None = num(
        "Measured stiffness EA",
        "cord force",
        "N",
        100,
        1e8,
        None,
        "Hang a weight on a metre: EA = force·length/stretch.",
    )
    line_mass_g_m: float | None = num(
        "Weighed mass", "line mass", "g/m", 0.1, 5000, None, "Weigh a metre; the pluck is proportional to it."
    )
    working_tension_n: float | None = num(
        "Working tension of 25.4 mm",
        "force",
        "N",
        1,
        1e5,
        None,
        "Rated pull of a one inch belt, from its maker's sheet.",
    )
    tension_n: float | None = num(
        "Tension to set", "force", "N", 0.1, 1e5, None, "Leave empty and the target below is used."
    )
    calibrated_at_n: float | None = num(
        "Tension at calibration",
        "force",
        "N",
        0,
        1e5,
        None,
        "The tension at which steps per mm were measured.",
    )
    price_per_m: float | None = num("Price per metre", "money", "", 0, 1e5, None, bill=True)


class Fixing(Part):
    """How a pulley sits on its shaft."""

    kind: Literal["set screw on flat", "set screw on round", "clamp", "key", "press fit", "measured"] = (
        choice("Fixing", "set screw on flat")
    )
    screw_mm: float = num("Screw size", "length", "mm", 1, 12, 3.0, sizes=(3, 4, 5, 6))
    screws: int = num("Screws", "count", "", 1, 6, 2)
    interference_mm: float = num(
        "Interference of a press fit",
        "length",
        "mm",
        0,
        0.2,
        0.015,
        "How much larger the shaft is than the bore.",
    )
    grip_nm: float | None = num(
        "Measured grip", "torque", "N·m", 0.001, 1e4, None, "What it held in your own trial."
    )


Flanges = Literal["both", "one", "none"]
PulleyMaterial = Literal["aluminium", "steel", "printed", "printed, metal insert"]


class Layer(Bought):
    """What lies under an idler to lift it to the belt line: washers, nuts, spacers."""

    thickness_mm: float = num("Thickness each", "length", "mm", 0.02, 300, 1.0)
    quantity: int = num("How many", "count", "", 1, 100, 1)


class Pulley(Bought):
    """A toothed drive pulley."""

    teeth: int = num("Pulley teeth", "count", "", 4, 400, 20)
    bore_mm: float = num("Bore", "length", "mm", 1, 100, 5.0, sizes=SHAFTS)
    hub_mm: float = num("Hub diameter", "length", "mm", 2, 400, 16.0)
    face_mm: float = num("Toothed face", "length", "mm", 2, 300, 7.0)
    overhang_mm: float = num("Belt centre from motor face", "length", "mm", 1, 300, 12.0)
    density_g_cm3: float = num(
        "Density", "number", "g/cm³", 0.5, 20, 2.7, "Aluminium 2.7, steel 7.8, printed about 1.2."
    )
    flanges: Flanges = choice("Flanges", "both")
    made_of: PulleyMaterial = choice(
        "Made of", "aluminium", "A printed hub wants a metal insert where the screw bites."
    )
    sleeve: bool = Field(
        False,
        title="Sleeve in the bore",
        strict=True,
        description="A bush that fills what the bore is too large.",
    )
    runout_mm: float = num(
        "Bored off centre by", "length", "mm", 0, 2, 0.0, "Half of what a dial gauge swings over a turn."
    )
    seat_mm: float | None = num(
        "Motor's face above the datum",
        "length",
        "mm",
        -2000,
        2000,
        None,
        "Height of the face that the belt line is measured from. Empty: not checked.",
    )
    fixing: Fixing = Fixing()


class Idler(Bought):
    """A pulley that only turns the belt round."""

    kind: Literal["toothed", "smooth"] = choice(
        "Idler",
        "toothed",
        "Toothed runs quieter on the tooth side; smooth is cheap and wants a larger diameter.",
    )
    teeth: int = num("Idler teeth", "count", "", 4, 400, 20)
    diameter_mm: float = num("Smooth diameter", "length", "mm", 2, 500, 16.0)
    width_mm: float = num(
        "Idler width", "length", "mm", 1, 300, 7.0, "Of two bearings side by side, both together."
    )
    density_g_cm3: float = num("Density", "number", "g/cm³", 0.5, 20, 2.7)
    flanges: Flanges = choice("Flanges", "both", "Washers wider than the bearing count as flanges.")
    washer_mm: float | None = num(
        "Washers beside it, outside diameter",
        "length",
        "mm",
        2,
        500,
        None,
        "Where washers hold the belt on a bearing.",
    )
    runout_mm: float = num("Bored off centre by", "length", "mm", 0, 2, 0.0)
    axle_mm: float = num("Axle", "length", "mm", 1, 100, 5.0)
    plate_mm: float = num(
        "Its screw passes through", "length", "mm", 0, 200, 6.0, "Plate or block under the stack."
    )
    held: Literal["one end", "both ends"] = choice(
        "Axle held at", "one end", "Held at both ends it bends a sixteenth as much."
    )
    seat_mm: float | None = num(
        "Its seat above the datum",
        "length",
        "mm",
        -2000,
        2000,
        None,
        "Height of the face that the stack under it stands on. Empty: not checked.",
    )
    stack: list[Layer] = Field([], title="Stack under it", max_length=12)


class Roller(Idler):
    """A further pulley on the path, at a place of its own."""

    kind: Literal["toothed", "smooth"] = choice(
        "Roller", "smooth", "Toothed runs only on the belt's toothed side."
    )
    label: str = words("Name", "Roller")
    belt_on: Literal["back", "teeth"] = choice("Touches the belt's", "back")
    where: Literal["before the pulley", "after the pulley", "after the idler"] = choice(
        "Place in the belt's order",
        "after the pulley",
        "The belt runs from the near clamp round the drive pulley and the idler to the far clamp.",
    )
    x_mm: float = num(
        "Along the travel", "length", "mm", -60_000, 60_000, 150.0, "From the drive pulley's axis."
    )
    y_mm: float = num("Upwards", "length", "mm", -60_000, 60_000, 0.0)


class Near(Part):
    """A thing that the belt must stay clear of: rail, wheel, bracket, screw head."""

    label: str = words("What stands near", "Wheel")
    x_mm: float = num("Its middle, along", "length", "mm", -60_000, 60_000, 100.0)
    y_mm: float = num("Its middle, upwards", "length", "mm", -60_000, 60_000, 0.0)
    width_mm: float = num("Its length", "length", "mm", 0.1, 60_000, 20.0)
    height_mm: float = num("Its height", "length", "mm", 0.1, 60_000, 5.0)
    rides: bool = Field(
        False,
        title="Rides on the carriage",
        strict=True,
        description="Measured with the carriage at the near end of its travel.",
    )


class Mount(Part):
    """What holds a motor or an idler against the belt's pull."""

    kind: Literal["rigid", "plate", "measured"] = choice(
        "Mount", "rigid", "Rigid only if nothing visibly gives when you pull hard."
    )
    material: Literal["steel", "aluminium", "acrylic", "PLA", "PETG", "plywood"] = choice(
        "Material", "aluminium"
    )
    thickness_mm: float = num("Thickness", "length", "mm", 0.5, 100, 6.0)
    width_mm: float = num("Width", "length", "mm", 2, 500, 40.0)
    overhang_mm: float = num("Free length", "length", "mm", 2, 500, 30.0)
    stiffness_n_mm: float | None = num(
        "Measured stiffness", "stiffness", "N/mm", 0.1, 1e7, None, "Hang a weight, read a dial gauge."
    )
    bolts: int = num("Bolts that hold it", "count", "", 1, 20, 2)
    bolt_mm: float = num("Bolt size", "length", "mm", 2, 16, 5.0)
    slotted: bool = Field(
        True,
        title="Held by friction in a slot",
        strict=True,
        description="Not where it sits against a step or is pinned.",
    )
    warm_c: float | None = num(
        "How warm it gets",
        "number",
        "°C",
        -40,
        400,
        None,
        "Beside a motor 50 to 70 °C is usual, in a warm chamber more.",
    )


class Clamp(Bought):
    """How the belt ends are held at the carriage."""

    kind: Literal["toothed plate", "doubled back", "zip tie", "nut in slot"] = choice(
        "Belt end", "toothed plate"
    )
    gap_mm: float = num(
        "Between the clamps",
        "length",
        "mm",
        0,
        2000,
        40.0,
        "Free length inside the carriage, from clamp to clamp.",
    )
    engaged_teeth: int = num("Teeth held, each end", "count", "", 1, 100, 6)
    pull_n: float | None = num(
        "Measured pull it holds",
        "force",
        "N",
        1,
        1e5,
        None,
        "Hang weights on a trial clamp until a tooth slips.",
    )
    line_mm: float | None = num(
        "Belt centre at the clamp above the datum", "length", "mm", -2000, 2000, None, "Empty: not checked."
    )
    tail_mm: float = num(
        "Tail, each end", "length", "mm", 0, 1000, 20.0, "What you leave to pull on, and trim later."
    )


class Tensioner(Bought):
    """What takes up the slack and sets the tension."""

    kind: Literal[
        "slotted idler",
        "sliding block",
        "threaded rod block",
        "slotted motor plate",
        "swinging arm",
        "movable clamp",
    ] = choice("Tensioner", "slotted idler")
    travel_mm: float = num("Tensioner travel", "length", "mm", 0, 500, 10.0, "What slot or block allows.")
    screw_mm: float = num(
        "Its screw", "length", "mm", 2, 16, 5.0, "Nominal diameter, coarse thread.", sizes=(3, 4, 5, 6)
    )
    screws: int = num("Screws that share the pull", "count", "", 1, 4, 1)
    screw_length_mm: float | None = num(
        "Length of the screw", "length", "mm", 3, 600, None, "Empty: to be bought."
    )
    through_mm: float = num(
        "Screw passes through", "length", "mm", 0, 200, 8.0, "Plate, block, washers and lock nut together."
    )
    lever: float = num(
        "Idler moves per screw travel",
        "number",
        "×",
        0.1,
        10,
        1.0,
        "1 for a straight pull; a swinging arm by its lengths.",
    )
    run_in_mm: float = num("Run-in", "length", "mm", 0, 100, 1.0, "Belt ends settle in the first hours.")
    removal_mm: float = num("Slack to lift the belt off", "length", "mm", 0, 200, 4.0)
    spring_n_mm: float | None = num(
        "Spring rate, if sprung",
        "stiffness",
        "N/mm",
        0.01,
        1e5,
        None,
        "Leave empty for a tensioner that is locked.",
    )


MASS_LIMIT_KG = 2000
MOST_ALIKE = 1000


class Mass(Part):
    """One thing that moves."""

    label: str = words("What moves", "Carriage")
    mass_kg: float = num("Mass each", "mass", "kg", 0, MASS_LIMIT_KG, 0.5)
    quantity: int = num("How many", "count", "", 0, MOST_ALIKE, 1)
    source: Source = Source()


class Head(Part):
    """What the axis carries on one day and not on another: a load case."""

    label: str = words("Head", "Head")
    mass_kg: float = num("Mass", "mass", "kg", 0, 2000, 0.5)
    push_n: float | None = num(
        "Push against", "force", "N", 0, 20_000, None, "Leave empty for the aim's own push."
    )


class Sides(Part):
    """How a gantry is driven on its two sides."""

    kind: Literal["one", "two motors", "cross shaft", "one driven"] = choice(
        "Driven sides",
        "one",
        "Two motors: no twist, twice the drive. Cross shaft: one motor, some twist. One side driven: "
        "cheap, and the guides must hold it square.",
    )
    width_mm: float = num("Between the sides", "length", "mm", 10, 20_000, 600.0)
    offset_mm: float = num(
        "Load off the middle",
        "length",
        "mm",
        0,
        10_000,
        100.0,
        "Where mass and push act, at worst, from the middle between the sides.",
    )
    guide_length_mm: float = num(
        "Length of a guide", "length", "mm", 5, 5000, 100.0, "From first to last wheel or block on one side."
    )
    guide_friction: float = num("Sliding friction of the guide", "number", "", 0.001, 1, 0.1)
    shaft_mm: float = num("Cross shaft", "length", "mm", 1, 200, 8.0, sizes=SHAFTS)
    coupler_nm_rad: float | None = num(
        "Stiffness of each coupler",
        "torsional stiffness",
        "N·m/rad",
        0.1,
        1e8,
        None,
        "Leave empty for solid couplers.",
    )
    shaft_price: float | None = num("Price of shaft and couplers", "money", "", 0, 1e6, None)


class Extra(Bought):
    """Anything else on the bill."""

    quantity: int = num("How many", "count", "", 0, 10000, 1)


class Aim(Part):
    """What the axis is for."""

    purpose: str = words("What it is for", longest=400)
    travel_mm: float = num("Travel wanted", "length", "mm", 1, 50_000, 500.0)
    speed_mm_s: float = num("Speed", "speed", "mm/s", 0.01, 20_000, 200.0)
    acceleration_mm_s2: float = num("Acceleration", "acceleration", "mm/s²", 1, 200_000, 1000.0)
    push_n: float = num(
        "Push against", "force", "N", 0, 20_000, 0.0, "Force of the tool or the work along the travel."
    )
    push_speed_mm_s: float = num("Speed while pushing", "speed", "mm/s", 0.01, 20_000, 20.0)
    hold_n: float = num("Hold against, standing", "force", "N", 0, 20_000, 0.0)
    slope_deg: float = num("Slope", "angle", "°", 0, 90, 0.0, "0 lies level, 90 stands upright.")
    resolution_mm: float = num("Smallest step wanted", "length", "mm", 0.0001, 100, 0.1)
    error_mm: float = num(
        "Error allowed",
        "length",
        "mm",
        0.0001,
        100,
        0.3,
        "At the work: give, whip and lost motion each must stay inside it.",
    )
    budget: float | None = num("Budget", "money", "", 0, 1e7, None)
    currency: str = words("Currency", "€", 6)


class Guide(Part):
    """Rail and what runs on it."""

    kind: Literal["wheels", "linear rail", "plain"] = choice(
        "Guide", "wheels", "Wheels are enough where the tool floats; a linear rail where it pushes."
    )
    rail_mm: float = num("Rail length", "length", "mm", 10, 60_000, 700.0)
    carriage_mm: float = num("Carriage length", "length", "mm", 5, 5000, 80.0)
    near_mm: float = num("Taken up at the motor end", "length", "mm", 0, 5000, 20.0)
    far_mm: float = num("Taken up at the far end", "length", "mm", 0, 5000, 20.0)
    overtravel_mm: float = num("Over-travel at each switch", "length", "mm", 0, 1000, 5.0)
    friction: float = num(
        "Friction", "number", "", 0, 1, 0.02, "Wheels and rails 0.01 to 0.03, plain guides 0.1 to 0.3."
    )
    drag_n: float = num(
        "Drag of seals and preload", "force", "N", 0, 5000, 2.0, "Pull the carriage with a kitchen scale."
    )


class Stand(Part):
    """Wheels, rail and stand: what carries the moving part. Fields left empty are not checked."""

    wheels: int = num("Wheels of the carriage", "count", "", 2, 32, 4)
    wheel_base_mm: float = num("Between the wheel pairs", "length", "mm", 5, 5000, 60.0)
    height_mm: float = num(
        "Mass above the wheels", "length", "mm", 0, 5000, 40.0, "Height at which mass and belt act."
    )
    preload_n: float = num(
        "Preload of a wheel", "force", "N", 0, 5000, 5.0, "By the eccentrics; feel, not force, sets it."
    )
    wheel_limit_n: float | None = num("Load limit of a wheel", "force", "N", 1, 1e5, None)
    play_mm: float = num("Play of the guide at the tool", "length", "mm", 0, 10, 0.0)
    rail_span_mm: float | None = num(
        "Rail between its supports",
        "length",
        "mm",
        10,
        20_000,
        None,
        "Leave empty for a rail that lies on its base.",
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
    beyond_mm: float = num(
        "Carriage beyond the foot", "length", "mm", 0, 20_000, 0.0, "At the end of its travel."
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
    strain_limit: float = num("Cord strain limit", "share", "%", 0.02, 2, 0.3, "0.2 to 0.4 %, from memory.")
    teeth_full: int = num(
        "Teeth wanted in mesh", "count", "", 1, 20, 6, "From six on the belt carries in full."
    )
    tilt_limit: float = num(
        "Tilt allowed", "angle", "°", 0.01, 5, 0.25, "A quarter degree; handbooks, from memory."
    )
    bearing_depth_mm: float = num(
        "Motor's front bearing behind its face", "length", "mm", 1, 100, 10.0, "Estimate."
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
