"""The layouts that makers build: what each one gives and costs, where makers disagree, and a design to begin
with.
"""

from __future__ import annotations

import copy
from typing import Any

from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from .design import AxisDesign, design_from


@record
class Layout:
    """One layout. `begin` is the part of a design that makes it."""

    key: str
    name: str
    gives: str
    costs: str
    schools: str
    begin: dict[str, Any]


# What is typical of its kind (estimates), so that a new axis can be judged at once; it is shown as assumed.
_STEPPER: dict[str, Any] = {
    "kind": "stepper", "resistance_ohm": 1.65, "inductance_mh": 3.2, "rotor_inertia_gcm2": 60.0, "detent_torque_nm": 0.016,
}  # fmt: skip
_CLOSED: dict[str, Any] = {"kind": "closed_belt", "radial_limit_n": 300.0}
_GEAR: dict[str, Any] = {"kind": "gearbox", "radial_limit_n": 120.0, "shaft_form": "flat"}
_GEARMOTOR: dict[str, Any] = {
    "kind": "gearmotor", "no_load_rpm": 60.0, "stall_torque_nm": 4.0, "inertia_gcm2": 500.0, "detent_torque_nm": 0.5,
}  # fmt: skip
_SLOW: dict[str, Any] = {"speed_mm_s": 2.0, "push_speed_mm_s": 1.1, "acceleration_mm_s2": 50.0}

LAYOUTS: dict[str, Layout] = {
    layout.key: layout
    for layout in (
        Layout(
            "carriage_loop", "Carriage loop", "A light carriage and no moving motor cable; cheap and fast.", "A belt twice as long as the axis, which gives most at the far end.",
            "Some run the belt inside the rail's slot to keep it out of the way; others leave it outside, where it can be seen and plucked.",
            {"chain": [_STEPPER], "end": {"kind": "carriage_loop"}},
        ),
        Layout(
            "riding_motor", "Riding motor", "A belt of single length, stiffest in mid rail at 4EA/L; any number of carriages on one rail.", "The motor's mass rides along, and so does its cable.",
            "Two idlers cost parts and raise the wrap; some leave them out on slow axes and let teeth jump.",
            {"chain": [{**_STEPPER, "mass_kg": 0.4}], "end": {"kind": "riding_motor", "pulley": {"overhang_mm": 12.0}}},
        ),
        Layout(
            "gantry", "Gantry on two sides", "A wide beam that stays square: two motors, or one motor with a cross shaft.", "Twice the drive, or a shaft that twists; one driven side only is cheap and can jam.",
            "Two motors square themselves at power-up but may lose step apart; a cross shaft never does, and winds up.",
            {"chain": [_STEPPER], "end": {"kind": "carriage_loop"}, "sides": {"kind": "two motors", "width_mm": 600.0, "offset_mm": 100.0}, "moving": [{"label": "Beam and head", "mass_kg": 2.0}]},
        ),
        Layout(
            "belt_reduction", "Belt reduction", "A cheap reduction without backlash, one or two stages.", "One belt more to guard and to tension for each stage.",
            "Makers who fear that direct drive is too coarse take this instead of a gearbox; others find that microsteps are smooth enough.",
            {"chain": [_STEPPER, _CLOSED], "end": {"kind": "carriage_loop", "pulley": {"bore_mm": 8.0, "hub_mm": 18.0, "teeth": 24}}},
        ),
        Layout(
            "gearbox", "Gearbox before the belt", "Torque and fine steps from a small motor.", "Speed, backlash at every reversal, and money.",
            "Bought out of fear of coarse steps more often than out of need: look at resolution and speed of both.",
            {"chain": [_STEPPER, _GEAR], "end": {"kind": "carriage_loop", "pulley": {"bore_mm": 8.0, "hub_mm": 18.0, "teeth": 24}}},
        ),
        Layout(
            "crossed_belts", "Crossed belts", "Both motors stand still and both work for x and for y: a light head in two directions.", "Long belts that must be tensioned alike, or the beam stands askew.",
            "Two belts in two planes do not rack the beam; one belt laid as an H is simpler and racks it with every force along x.",
            {"chain": [_STEPPER], "end": {"kind": "crossed_belts", "pulley": {"teeth": 24, "hub_mm": 18.0}}, "aim": {"travel_mm": 300.0}, "guide": {"rail_mm": 460.0}},
        ),
        Layout(
            "screw", "Screw", "Stiff and fine, holds by itself with a fine thread.", "Slow, dear and whipping on a long axis.",
            "A flexible coupler forgives shafts out of line and winds up; a solid one is stiff and wants true shafts; a closed belt does both and adds a reduction.",
            {"chain": [_STEPPER, {"kind": "coupler"}], "end": {"kind": "screw", "length_mm": 720.0}, "aim": {"speed_mm_s": 20.0, "acceleration_mm_s2": 200.0, "push_speed_mm_s": 5.0}},
        ),
        Layout(
            "power_feed", "Power feed", "A slow, strong feed for a bench machine, with the hand wheel still usable.", "No idea of place: it stops by a switch or by your eye.",
            "Some let the belt slip as a clutch; others fit dogs that let go by a lever.",
            {
                "chain": [{**_GEARMOTOR, "no_load_rpm": 160.0, "stall_torque_nm": 6.0, "inertia_gcm2": 300.0, "detent_torque_nm": 0.3}, {**_CLOSED, "driver": {"teeth": 20, "bore_mm": 8.0, "hub_mm": 16.0, "face_mm": 10.0}, "driven": {"teeth": 40, "bore_mm": 10.0, "hub_mm": 24.0, "face_mm": 10.0}, "belt_teeth": 130, "belt": {"profile": "round-g-3", "width_mm": 9.0}}, {"kind": "clutch"}],
                "end": {"kind": "screw", "diameter_mm": 16.0, "pitch_mm": 4.0, "length_mm": 600.0}, "guide": {"kind": "plain", "friction": 0.15, "rail_mm": 560.0}, "aim": {**_SLOW, "travel_mm": 400.0, "push_n": 60.0},
            },
        ),
        Layout(
            "joint", "Rotary joint", "An arm that turns: belt stages or a gearbox keep the heavy motor at the shoulder.", "Weight at the tip costs torque; give at the joint is long at the tip.",
            "Belt stages have no backlash and some stretch; gearboxes are stiff and have play.",
            {"chain": [_STEPPER, _GEAR, {**_CLOSED, "driver": {"teeth": 20, "bore_mm": 8.0, "hub_mm": 16.0, "face_mm": 10.0}, "driven": {"teeth": 60, "bore_mm": 10.0, "hub_mm": 24.0, "face_mm": 10.0}, "belt_teeth": 130, "belt": {"profile": "round-g-3", "width_mm": 9.0}}], "end": {"kind": "joint"}, "moving": [{"label": "Payload", "mass_kg": 0.3}], "aim": {"speed_mm_s": 150.0, "acceleration_mm_s2": 600.0, "error_mm": 2.5}},
        ),
        Layout(
            "wheel", "Driven wheel", "A cart or small robot: motor, belt, wheel.", "Grip and slope decide, not torque alone.", "Two driven wheels with a motor each steer by themselves; one motor with a steered wheel is cheaper.",
            {"chain": [{**_GEARMOTOR, "no_load_rpm": 120.0, "stall_torque_nm": 6.0}, {**_CLOSED, "driver": {"teeth": 24, "bore_mm": 8.0, "hub_mm": 16.0, "face_mm": 10.0}, "driven": {"teeth": 36, "bore_mm": 10.0, "hub_mm": 24.0, "face_mm": 10.0}, "belt_teeth": 120, "belt": {"profile": "round-g-3", "width_mm": 9.0}}], "end": {"kind": "wheel"}, "moving": [{"label": "Vehicle with its load", "mass_kg": 8.0}], "aim": {"speed_mm_s": 250.0, "push_speed_mm_s": 250.0, "acceleration_mm_s2": 300.0}},
        ),
        Layout(
            "drum", "Cord winch", "Any lift with few parts.", "The load hangs on the motor; radius, speed and torque change with every layer.", "A worm holds by itself and wastes power; a brake holds for certain.",
            {"chain": [{**_GEARMOTOR, "no_load_rpm": 3000.0, "stall_torque_nm": 0.6, "inertia_gcm2": 120.0, "detent_torque_nm": 0.01}, {"kind": "worm", "radial_limit_n": 300.0}], "end": {"kind": "drum"}, "moving": [{"label": "Load", "mass_kg": 4.0}], "aim": {"speed_mm_s": 80.0, "acceleration_mm_s2": 200.0, "slope_deg": 90.0, "travel_mm": 1800.0}, "guide": {"drag_n": 1.0}},
        ),
        Layout(
            "spindle", "Spindle by V-belt", "A range of speeds from one plain motor.", "Changing a step by hand; belts and cones to guard.", "Stepped cones are cheap and sure; a variable drive is handy and dear.",
            {"chain": [{"kind": "induction", "power_w": 370.0, "rated_rpm": 700.0, "synchronous_rpm": 750.0, "inertia_gcm2": 15_000.0, "detent_torque_nm": 0.1}], "end": {"kind": "spindle", "spin_up_s": 4.0, "spindle_shaft_mm": 20.0}, "moving": [{"label": "Counted with the spindle", "mass_kg": 0.001}], "aim": {"speed_mm_s": 2900.0, "acceleration_mm_s2": 500.0, "push_n": 20.0, "push_speed_mm_s": 2900.0}},
        ),
        Layout(
            "rack", "Rack and pinion", "Any length, as stiff at one end as at the other.", "Backlash unless the pinion is sprung; joints between pieces of rack.", "A printed rack is a fair first bet; steel is the fallback.",
            {"chain": [_STEPPER, _GEAR], "end": {"kind": "rack"}},
        ),
    )
}  # fmt: skip


def begin(layout: str, name: str) -> AxisDesign:
    """A new axis of a layout; EntryError names the layouts that there are.

    >>> begin("rack", "Shutter").end.kind
    'rack'
    """
    found = LAYOUTS.get(layout)
    if found is None:
        raise EntryError(
            [
                problem(
                    "layout",
                    "is not a layout of this program",
                    value=layout,
                    limit=", ".join(LAYOUTS),
                    remedy="Pick one of those named.",
                )
            ]
        )
    return design_from({"name": name, **copy.deepcopy(found.begin)})


def layout_of(design: AxisDesign) -> str:
    """The layout that a design is of: of those with its end, the one most of whose marks it bears; its end's kind
    where none has it.

    >>> layout_of(begin("gearbox", "Table")), layout_of(begin("gantry", "Table"))
    ('gearbox', 'gantry')
    """
    kinds = {stage.kind for stage in design.chain}
    sides = design.sides.kind

    def bears(layout: Layout) -> tuple[bool, int]:
        own = {stage["kind"] for stage in layout.begin["chain"]}
        asked = layout.begin.get("sides", {}).get("kind", "one")
        return (asked == "one") == (sides == "one"), len(own & kinds) - len(own - kinds)

    ends = [layout for layout in LAYOUTS.values() if layout.begin["end"]["kind"] == design.end.kind]
    return max(ends, key=bears).key if ends else design.end.kind
