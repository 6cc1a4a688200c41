"""A belt and all that it touches: pulleys, idlers, rollers, clamp, tensioner, brackets and what stands
near.
"""

from __future__ import annotations

from typing import ClassVar, Literal, get_args

from pydantic import Field

from .part import SHAFTS, Bought, Part, choice, num, words
from .rows import Row

CORD_FACTOR = {"glass": 1.0, "steel": 4.0}


class Belt(Bought):
    """A belt by profile, width and cord; measured values replace the catalogue's."""

    FIRST = ("profile", "width_mm")
    LOOKED_UP = ("cord",)

    profile: str = words("Profile", "round-g-2", 40)
    width_mm: float = num("Width", "length", "mm", 1, 200, 6.0, "As it is sold; measure it across.")
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
    cord_n: float | None = num(
        "Tension that its cords bear",
        "cord force",
        "N",
        1,
        1e7,
        None,
        "Allowed tension of the whole width, from its maker's sheet.",
    )
    droop_mm: float | None = num(
        "A free end hangs down by",
        "length",
        "mm",
        0.1,
        1000,
        None,
        "Hold it level, teeth sideways to its curl: how stiff it bends, which raises its pitch.",
    )
    droop_over_mm: float | None = num("Length of that free end", "length", "mm", 10, 1000, None)
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


SCREWED = ("set screw on flat", "set screw on round", "clamp")


class Fixing(Part):
    """How a pulley sits on its shaft."""

    FIRST = ("kind", "grip_nm")
    APART = ("screw_mm",)

    kind: Literal["set screw on flat", "set screw on round", "clamp", "key", "press fit", "measured"] = (
        choice("Fixing", "set screw on flat")
    )
    screw_mm: float = num("Screw size", "length", "mm", 1, 12, 3.0, sizes=(3, 4, 5, 6), only=SCREWED)
    screws: int = num("Screws", "count", "", 1, 6, 2, only=SCREWED)
    interference_mm: float = num(
        "Interference of a press fit",
        "length",
        "mm",
        0,
        0.2,
        0.015,
        "How much larger the shaft is than the bore.",
        only=("press fit",),
    )
    grip_nm: float | None = num(
        "Measured grip",
        "torque",
        "N·m",
        0.001,
        1e4,
        None,
        "What it held in your own trial.",
        only=("measured",),
    )


Flanges = Literal["both", "one", "none"]
PulleyMaterial = Literal["aluminium", "steel", "printed", "printed, metal insert"]


OpenKind = Literal[
    "slotted idler",
    "sliding block",
    "threaded rod block",
    "slotted motor plate",
    "swinging arm",
    "movable clamp",
    "none",
]
ShaftKind = Literal["slotted plate", "jack screw", "roller", "spring", "hanging motor", "none"]
# Kinds of tensioner with a screw, and those with something to move.
OF_OPEN_BELTS = tuple(kind for kind in get_args(OpenKind) if kind != "none")
SCREWED_ON = (*OF_OPEN_BELTS, "jack screw", "roller")
MOVED = (*OF_OPEN_BELTS, *(kind for kind in get_args(ShaftKind) if kind != "none"))


class Layer(Bought):
    """What lies under an idler to lift it to the belt line: washers, nuts, spacers."""

    thickness_mm: float = num("Thickness each", "length", "mm", 0.02, 300, 1.0)
    quantity: int = num("How many", "count", "", 1, 100, 1)


class Pulley(Bought):
    """A toothed drive pulley."""

    FIRST = ("teeth", "bore_mm")

    teeth: int = num("Pulley teeth", "count", "", 4, 400, 20)
    bore_mm: float = num("Bore", "length", "mm", 1, 100, 5.0, sizes=SHAFTS)
    hub_mm: float = num("Hub diameter", "length", "mm", 2, 400, 16.0)
    face_mm: float = num(
        "Toothed face", "length", "mm", 2, 300, 7.0, "Between its flanges, or its whole width without them."
    )
    overhang_mm: float = num(
        "Belt centre from motor face",
        "length",
        "mm",
        1,
        300,
        12.0,
        "From the face that the motor is bolted by to the middle of the belt.",
    )
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

    FIRST: ClassVar[tuple[str, ...]] = ("kind", "teeth", "diameter_mm")

    kind: Literal["toothed", "smooth"] = choice(
        "Idler",
        "toothed",
        "Toothed runs quieter on the tooth side; smooth is cheap and wants a larger diameter.",
    )
    teeth: int = num("Idler teeth", "count", "", 4, 400, 20, only=("toothed",))
    diameter_mm: float = num("Smooth diameter", "length", "mm", 2, 500, 16.0, only=("smooth",))
    width_mm: float = num(
        "Idler width", "length", "mm", 1, 300, 7.0, "Of two bearings side by side, both together."
    )
    density_g_cm3: float = num(
        "Density", "number", "g/cm³", 0.5, 20, 2.7, "2.7 for aluminium, 7.85 for steel, 1.2 for printed ones."
    )
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
    runout_mm: float = num(
        "Bored off centre by",
        "length",
        "mm",
        0,
        2,
        0.0,
        "Hold a dial gauge to it and turn: half of what the needle swings.",
    )
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


class Roller(Idler, Row):
    """A further pulley on the path, at a place of its own."""

    FIRST = ("kind", "teeth", "diameter_mm", "where", "x_mm", "y_mm")

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


class Near(Row):
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

    FIRST = ("kind", "stiffness_n_mm")
    APART = ("bolt_mm",)

    kind: Literal["rigid", "plate", "measured"] = choice(
        "Mount", "rigid", "Rigid only if nothing visibly gives when you pull hard."
    )
    material: Literal["steel", "aluminium", "acrylic", "PLA", "PETG", "plywood"] = choice(
        "Material", "aluminium", only=("plate",)
    )
    thickness_mm: float = num("Thickness", "length", "mm", 0.5, 100, 6.0, only=("plate",))
    width_mm: float = num("Width", "length", "mm", 2, 500, 40.0, only=("plate",))
    overhang_mm: float = num("Free length", "length", "mm", 2, 500, 30.0, only=("plate",))
    stiffness_n_mm: float | None = num(
        "Measured stiffness",
        "stiffness",
        "N/mm",
        0.1,
        1e7,
        None,
        "Hang a weight, read a dial gauge.",
        only=("measured",),
    )
    bolts: int = num("Bolts that hold it", "count", "", 1, 20, 2)
    bolt_mm: float = num("Bolt size", "length", "mm", 2, 16, 5.0)
    bolts_into: Literal["metal or nuts", "inserts in plastic"] = choice(
        "Bolts go into", "metal or nuts", "What they pull on when the bracket wants to tip.", only=("plate",)
    )
    lever_mm: float = num(
        "Bolts from the edge it tips over",
        "length",
        "mm",
        1,
        300,
        15.0,
        "Measured on its foot, away from the belt's pull.",
        only=("plate",),
    )
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
        only=("plate",),
    )


class Clamp(Bought):
    """How the belt ends are held at the carriage."""

    FIRST = ("kind",)

    kind: Literal["toothed plate", "doubled back", "zip tie", "nut in slot"] = choice(
        "Belt end", "toothed plate"
    )
    reached: Literal["from the side", "under the tool plate", "from below"] = choice(
        "Its screws are reached",
        "from the side",
        "Under a plate they ask for an access hole, or for the plate to go on last.",
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
    rod_mm: float | None = num(
        "Rod that the belt is doubled round",
        "length",
        "mm",
        0.5,
        200,
        None,
        "Its diameter; the cords bend round it. Empty: not checked.",
        only=("doubled back",),
    )
    tail_mm: float = num(
        "Tail, each end", "length", "mm", 0, 1000, 20.0, "What you leave to pull on, and trim later."
    )


class Tightener(Bought):
    """What takes up a belt's slack and sets its tension, by a screw or without."""

    APART = ("screw_mm",)

    screw_mm: float = num(
        "Its screw",
        "length",
        "mm",
        2,
        16,
        5.0,
        "Nominal diameter; 1/4 in is 6.35 mm.",
        sizes=(3, 4, 5, 6),
        only=SCREWED_ON,
    )
    pitch_mm: float | None = num(
        "Pitch of its thread",
        "length",
        "mm",
        0.1,
        6,
        None,
        "Of a fine thread. Empty: coarse.",
        only=SCREWED_ON,
    )
    screws: int = num("Screws that share the pull", "count", "", 1, 4, 1, only=SCREWED_ON)
    screw_length_mm: float | None = num(
        "Length of the screw", "length", "mm", 3, 600, None, "Empty: to be bought.", only=SCREWED_ON
    )
    through_mm: float = num(
        "Screw passes through",
        "length",
        "mm",
        0,
        200,
        8.0,
        "Plate, block, washers and lock nut together.",
        only=SCREWED_ON,
    )
    lever: float = num(
        "Pulley moves per screw travel",
        "number",
        "×",
        0.1,
        10,
        1.0,
        "1 for a straight pull; a swinging arm or a hinge by its lengths.",
        only=(*SCREWED_ON, "hanging motor"),
    )
    run_in_mm: float = num(
        "Run-in", "length", "mm", 0, 100, 1.0, "Belt ends settle in the first hours.", only=MOVED
    )
    removal_mm: float = num("Slack to lift the belt off", "length", "mm", 0, 200, 4.0, only=MOVED)


class Tensioner(Tightener):
    """What takes up the slack of an open belt and sets the tension."""

    FIRST = ("kind", "travel_mm")

    kind: OpenKind = choice(
        "Tensioner", "slotted idler", "None: the belt's ends are drawn by hand, a tooth at a time."
    )
    travel_mm: float = num(
        "Tensioner travel", "length", "mm", 0, 500, 10.0, "What slot or block allows.", only=OF_OPEN_BELTS
    )
    spring_n_mm: float | None = num(
        "Spring rate, if sprung",
        "stiffness",
        "N/mm",
        0.01,
        1e5,
        None,
        "Leave empty for a tensioner that is locked.",
        only=OF_OPEN_BELTS,
    )


class ShaftTensioner(Tightener):
    """What tightens a closed belt: one of its shafts moves, or a roller on it."""

    FIRST = ("kind",)

    kind: ShaftKind = choice(
        "Tensioner",
        "slotted plate",
        "None: the shafts stand still, and the distance between them makes the tension.",
    )
    run_in_mm: float = num("Run-in", "length", "mm", 0, 100, 0.2, "A closed belt hardly settles.", only=MOVED)
    removal_mm: float = num("Slack to lift the belt off", "length", "mm", 0, 200, 3.0, only=MOVED)
    rate_n_mm: float = num(
        "Spring rate",
        "stiffness",
        "N/mm",
        0.01,
        1e5,
        5.0,
        "Hang a weight on the spring: newtons by millimetres.",
        only=("spring",),
    )
    hanging_kg: float | None = num(
        "Mass that hangs in the belt",
        "mass",
        "kg",
        0.01,
        500,
        None,
        "Motor, plate and pulley. Empty: the mass of the motor before it.",
        only=("hanging motor",),
    )
