"""Demo data, second part: one axis for each further layout, in the same pottery and seed library. Prices are
made up.
"""

from __future__ import annotations

from typing import Any

from . import catalog
from .core.design.design import AxisDesign, design_from
from .core.design.layouts import begin


def part(key: str, price: float | None, *, in_stock: bool = False, **more: Any) -> dict[str, Any]:
    """A part picked from the starter catalogue, with a made-up price."""
    row = catalog.parts()[key]
    return {
        "label": row.name, "drawer_key": key, "price": price, "in_stock": in_stock, "source": {"kind": row.source_kind, "note": row.source}, **row.data, **more,
    }  # fmt: skip


def mass(label: str, mass_kg: float, quantity: int = 1) -> dict[str, Any]:
    """Something that moves, weighed."""
    return {
        "label": label,
        "mass_kg": mass_kg,
        "quantity": quantity,
        "source": {"kind": "measured by you", "note": "kitchen scales"},
    }


def _of(layout: str, name: str, **parts: Any) -> AxisDesign:
    """A layout's first design with some of its parts filled in or replaced."""
    data = begin(layout, name).model_dump(mode="json")
    for key, value in parts.items():
        data[key] = {**data[key], **value} if isinstance(value, dict) else value
    return design_from(data)


def _driver(volts: float, amps: float, price: float, microsteps: int = 16, **more: Any) -> dict[str, Any]:
    return {
        "label": f"Driver and {volts:g} V supply",
        "price": price,
        "supply_v": volts,
        "current_a": amps,
        "microsteps": microsteps,
        **more,
    }


def _pulley(teeth: int, bore: float, hub: float, price: float, face: float = 10.0) -> dict[str, Any]:
    return {
        "label": f"Pulley, {teeth} teeth",
        "price": price,
        "teeth": teeth,
        "bore_mm": bore,
        "hub_mm": hub,
        "face_mm": face,
        "fixing": {"screw_mm": 4.0},
    }


def _closed(driver: int, driven: int, teeth: int, bores: tuple[float, float], **more: Any) -> dict[str, Any]:
    belt = {"profile": "round-g-3", "width_mm": 9.0, "label": "Closed belt", "price": 7.0}
    return {
        "kind": "closed_belt",
        "belt": belt,
        "driver": _pulley(driver, bores[0], 16.0, 6.0),
        "driven": _pulley(driven, bores[1], 24.0, 11.0),
        "belt_teeth": teeth,
        "shaft_mm": bores[1],
        "radial_limit_n": 400.0,
        **more,
    }


def probe() -> AxisDesign:
    """A riding motor along the drying shelves."""
    return _of(
        "riding_motor", "Probe",
        note="Carries a moisture probe along the drying shelves, stops at each board.",
        aim={"purpose": "Carry a moisture probe along the drying shelves", "travel_mm": 2200.0, "speed_mm_s": 250.0, "acceleration_mm_s2": 500.0, "error_mm": 1.0, "budget": 120.0},
        guide={"kind": "wheels", "rail_mm": 2500.0, "carriage_mm": 110.0, "drag_n": 2.5},
        moving=[mass("Carriage with wheels", 0.45), mass("Probe and its arm", 0.3)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-17-48", 16.0, in_stock=True), "mass_kg": 0.36, "driver": _driver(24.0, 1.5, 24.0)}],
        end={
            "belt": {"label": "Open belt", "profile": "round-g-2", "width_mm": 9.0, "price_per_m": 3.9}, "pulley": _pulley(20, 5.0, 14.0, 4.0),
            "idler": {"kind": "smooth", "diameter_mm": 18.0, "width_mm": 10.0, "label": "Smooth idlers", "price": 2.5}, "clamp": {"label": "Clamps at the rail's ends", "price": 3.0, "gap_mm": 0.0},
            "tensioner": {"label": "Movable clamp", "kind": "movable clamp", "price": 2.0, "travel_mm": 14.0},
        },
    )  # fmt: skip


def loader() -> AxisDesign:
    """A gantry with two motors that sets shelves into the kiln's trolley."""
    return _of(
        "gantry", "Loader",
        note="Sets pots on the kiln trolley; two motors keep the beam square.",
        aim={"purpose": "Carry a row of pots over the kiln trolley", "travel_mm": 700.0, "speed_mm_s": 150.0, "acceleration_mm_s2": 500.0, "error_mm": 0.8, "budget": 320.0},
        guide={"kind": "linear rail", "rail_mm": 900.0, "carriage_mm": 90.0, "friction": 0.01, "drag_n": 6.0},
        sides={"kind": "two motors", "width_mm": 800.0, "offset_mm": 150.0, "guide_length_mm": 90.0},
        moving=[mass("Beam", 1.6), mass("Gripper", 0.9)],
        heads=[{"label": "Mugs", "mass_kg": 1.2}, {"label": "Large bowl", "mass_kg": 3.5}],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-23-56", 31.0), "driver": _driver(36.0, 2.5, 52.0, 8)}],
        end={
            "motor_offset_mm": 34.0, "idler_offset_mm": 26.0, "belt": {"label": "Open belt", "profile": "round-g-3", "width_mm": 15.0, "price_per_m": 8.9},
            "pulley": _pulley(20, 6.35, 18.0, 9.0, 16.0), "idler": {"label": "Idler", "price": 7.0, "teeth": 20, "width_mm": 16.0}, "clamp": {"label": "Clamp plates", "price": 3.0, "gap_mm": 60.0},
            "tensioner": {"label": "Sliding block", "kind": "sliding block", "price": 5.0, "travel_mm": 12.0},
        },
    )  # fmt: skip


def carriage() -> AxisDesign:
    """Belt reduction before a loop: the clay syringe's long way."""
    return _of(
        "belt_reduction", "Long way",
        note="Moves the whole printing frame between two boards, slowly and surely.",
        aim={"purpose": "Shift the clay printer between two boards", "travel_mm": 900.0, "speed_mm_s": 100.0, "acceleration_mm_s2": 300.0, "error_mm": 0.6, "budget": 160.0},
        guide={"kind": "wheels", "rail_mm": 1150.0, "carriage_mm": 140.0, "drag_n": 8.0},
        moving=[mass("Frame plates and wheels", 2.2)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-23-56", 31.0), "driver": _driver(24.0, 2.5, 40.0)}, _closed(20, 40, 120, (6.35, 10.0))],
        end={
            "motor_offset_mm": 36.0, "idler_offset_mm": 28.0, "belt": {"label": "Open belt", "profile": "round-g-3", "width_mm": 15.0, "price_per_m": 8.9},
            "pulley": _pulley(24, 10.0, 20.0, 9.0, 16.0), "idler": {"label": "Idler", "price": 7.0, "teeth": 20, "width_mm": 16.0}, "clamp": {"label": "Clamp plates", "price": 3.0, "gap_mm": 90.0},
            "tensioner": {"label": "Slotted idler plate", "price": 4.0, "travel_mm": 14.0},
        },
    )  # fmt: skip


def clay_head() -> AxisDesign:
    """Crossed belts: the clay printer's head."""
    return _of(
        "crossed_belts", "Head",
        note="Draws walls of clay; both motors stand still on the frame.",
        aim={"purpose": "Move the clay nozzle over the board", "travel_mm": 300.0, "speed_mm_s": 120.0, "acceleration_mm_s2": 1500.0, "push_n": 3.0, "push_speed_mm_s": 60.0, "error_mm": 0.4, "budget": 220.0},
        guide={"kind": "linear rail", "rail_mm": 450.0, "carriage_mm": 70.0, "friction": 0.01, "drag_n": 3.0},
        moving=[mass("Head with nozzle", 0.55), mass("Hose and clay in it", 0.4)],
        still=[mass("Frame of the head", 2.4)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-17-60", 19.0), "mass_kg": 0.5, "driver": _driver(24.0, 2.0, 24.0)}],
        end={
            "frame_x_mm": 520.0, "frame_y_mm": 520.0, "travel_y_mm": 300.0, "beam_kg": 0.8, "belt": {"label": "Open belts", "profile": "round-g-2", "width_mm": 9.0, "price_per_m": 3.9},
            "pulley": _pulley(24, 5.0, 14.0, 4.5), "idler": {"label": "Idler", "price": 3.0, "teeth": 20, "width_mm": 10.0}, "clamp": {"label": "Clamp plates", "price": 3.0, "gap_mm": 50.0},
            "tensioner": {"label": "Threaded rod block", "kind": "threaded rod block", "price": 3.0, "travel_mm": 10.0},
        },
    )  # fmt: skip


def clay_lift() -> AxisDesign:
    """A lead screw that lowers the board: the trimming slide's cousin, upright."""
    return _of(
        "screw", "Board",
        note="Lowers the board by a layer at a time; the fine thread holds it.",
        aim={"purpose": "Lower the printing board layer by layer", "travel_mm": 280.0, "speed_mm_s": 12.0, "acceleration_mm_s2": 150.0, "slope_deg": 90.0, "resolution_mm": 0.01, "error_mm": 0.15, "budget": 110.0},
        guide={"kind": "linear rail", "rail_mm": 400.0, "carriage_mm": 60.0, "friction": 0.01, "drag_n": 4.0},
        moving=[mass("Board and its arms", 1.4), mass("Clay on it", 2.0)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-17-48", 16.0), "driver": _driver(24.0, 1.6, 24.0)}, {"kind": "coupler", "form": "jaw", "label": "Jaw coupler", "price": 6.0}],
        end={"screw": {"label": "Lead screw", "price": 14.0}, "nut": {"label": "Brass nut, sprung", "price": 6.0}, "diameter_mm": 10.0, "pitch_mm": 2.0, "starts": 1, "length_mm": 440.0, "backlash_mm": 0.0},
    )  # fmt: skip


def trimming() -> AxisDesign:
    """A ball screw before the trimming knife."""
    return _of(
        "screw", "Trimming slide",
        note="Feeds the trimming knife into a turning bowl.",
        aim={"purpose": "Feed the trimming knife against a turning bowl", "travel_mm": 180.0, "speed_mm_s": 30.0, "acceleration_mm_s2": 300.0, "push_n": 40.0, "push_speed_mm_s": 5.0, "resolution_mm": 0.02, "error_mm": 0.1, "budget": 190.0},
        guide={"kind": "linear rail", "rail_mm": 320.0, "carriage_mm": 70.0, "friction": 0.01, "drag_n": 6.0},
        moving=[mass("Knife slide", 1.1)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-23-56", 31.0), "driver": _driver(36.0, 2.5, 52.0)}, {"kind": "coupler", "form": "solid", "label": "Solid coupler", "price": 5.0, "stiffness_nm_rad": 2000.0, "torque_limit_nm": 6.0}],
        end={"screw": {"label": "Ball screw", "price": 42.0}, "nut": {"label": "Ball nut", "price": 0.0}, "form": "ball", "diameter_mm": 12.0, "pitch_mm": 4.0, "friction": 0.005, "length_mm": 360.0, "backlash_mm": 0.02},
    )  # fmt: skip


def roller_feed() -> AxisDesign:
    """A gearmotor that draws a slab through the roller."""
    return _of(
        "power_feed", "Slab feed",
        note="Draws the slab bed under the roller; the clutch lets the hand wheel turn alone.",
        aim={"purpose": "Draw a clay slab under the roller at an even pace", "travel_mm": 400.0, "speed_mm_s": 3.0, "acceleration_mm_s2": 20.0, "push_n": 120.0, "push_speed_mm_s": 2.5, "error_mm": 1.0, "budget": 150.0},
        moving=[mass("Slab bed", 6.0), mass("Slab", 4.0)],
        chain=[
            {"kind": "gearmotor", "label": "12 V gearmotor", "price": 28.0, "no_load_rpm": 160.0, "stall_torque_nm": 6.0, "inertia_gcm2": 300.0, "detent_torque_nm": 0.3, "duty_percent": 90.0},
            _closed(20, 40, 130, (8.0, 10.0)), {"kind": "clutch", "label": "Dog clutch", "price": 0.0},
        ],
        end={"screw": {"label": "Lead screw", "price": 18.0}, "nut": {"label": "Bronze nut", "price": 9.0}},
    )  # fmt: skip


def spray_arm() -> AxisDesign:
    """Gearbox and belt to a glaze-spraying arm."""
    return _of(
        "joint", "Spray arm",
        note="Swings the glaze nozzle over a pot on the banding wheel, behind the screen.",
        aim={"purpose": "Swing the glaze nozzle over a pot", "travel_mm": 380.0, "speed_mm_s": 120.0, "acceleration_mm_s2": 300.0, "resolution_mm": 0.2, "error_mm": 2.0, "budget": 180.0},
        guide={"drag_n": 0.0},
        moving=[mass("Nozzle and hose", 0.35)],
        chain=[
            {"kind": "stepper", **part("stepper:stepper-nema-17-48", 16.0), "driver": _driver(24.0, 1.6, 24.0, idle_percent=70.0)},
            {"kind": "gearbox", **part("gearbox:planetary-gearbox-small-frame-5-1", 38.0)}, _closed(20, 60, 140, (8.0, 12.0)),
        ],
        end={"arm": {"label": "Aluminium arm", "price": 9.0}, "length_mm": 280.0, "arm_kg": 0.28, "height_mm": 30.0, "width_mm": 12.0, "from_deg": -20.0, "to_deg": 75.0, "turn_deg": 80.0, "drag_nm": 0.08},
    )  # fmt: skip


def rover() -> AxisDesign:
    """The tray-watering rover's driven wheels."""
    return _of(
        "wheel", "Wheels",
        note="Carries a water tank along the rows of seed trays.",
        aim={"purpose": "Carry water along the seed trays", "travel_mm": 6000.0, "speed_mm_s": 200.0, "acceleration_mm_s2": 250.0, "slope_deg": 3.0, "error_mm": 10.0, "budget": 160.0},
        moving=[mass("Chassis", 4.5), mass("Tank, full", 6.0)],
        chain=[
            {"kind": "gearmotor", "label": "12 V gearmotor", "price": 24.0, "no_load_rpm": 75.0, "stall_torque_nm": 9.0, "inertia_gcm2": 500.0, "detent_torque_nm": 1.4, "mass_kg": 0.4},
            _closed(24, 36, 120, (8.0, 10.0)),
        ],
        end={"wheel": {"label": "Soft wheel", "price": 8.0}, "diameter_mm": 140.0, "driven": 2, "motors": 2},
    )  # fmt: skip


def hoist() -> AxisDesign:
    """Worm and drum that lift a kiln shelf."""
    return _of(
        "drum", "Hoist",
        note="Lifts one kiln shelf to the upper rack; nobody stands under it.",
        aim={"purpose": "Lift a kiln shelf to the upper rack", "travel_mm": 1600.0, "speed_mm_s": 60.0, "acceleration_mm_s2": 120.0, "slope_deg": 90.0, "error_mm": 20.0, "budget": 140.0},
        moving=[mass("Cradle", 1.2), mass("Kiln shelf", 5.5)],
        chain=[
            {"kind": "gearmotor", "label": "24 V motor", "price": 22.0, "no_load_rpm": 3000.0, "stall_torque_nm": 1.2, "inertia_gcm2": 120.0, "detent_torque_nm": 0.01, "voltage_v": 24.0},
            {"kind": "worm", "label": "Worm and wheel", "price": 26.0, "wheel_teeth": 50, "module_mm": 1.0, "worm_mm": 18.0, "friction": 0.08, "radial_limit_n": 300.0},
        ],
        end={"drum": {"label": "Turned drum", "price": 0.0}, "rope": {"label": "Braided cord", "price": 6.0}, "diameter_mm": 44.0, "width_mm": 36.0, "rope_mm": 4.0, "rope_limit_n": 1800.0, "length_mm": 1900.0},
    )  # fmt: skip


def potters_wheel() -> AxisDesign:
    """Stepped cones for a potter's wheel."""
    return _of(
        "spindle", "Potter's wheel",
        note="Four speeds from an old mains motor; the middle pulley tensions both belts.",
        aim={"purpose": "Turn the wheel head against wet hands", "travel_mm": 100.0, "speed_mm_s": 2900.0, "acceleration_mm_s2": 600.0, "push_n": 35.0, "push_speed_mm_s": 2900.0, "budget": 130.0},
        chain=[{"kind": "induction", "label": "Mains motor from the scrap bin", "price": 0.0, "in_stock": True, "power_w": 370.0, "rated_rpm": 700.0, "synchronous_rpm": 750.0, "inertia_gcm2": 15_000.0, "detent_torque_nm": 0.1}],
        end={"cones": {"label": "Turned cones", "price": 35.0}, "belts": {"label": "V-belts", "price": 9.0}, "low_rpm": 60.0, "high_rpm": 240.0, "steps": 2, "spin_gcm2": 900_000.0, "drag_n": 2.0},
    )  # fmt: skip


def shutter() -> AxisDesign:
    """A rack that pulls the seed store's shutter."""
    return _of(
        "rack", "Shutter",
        note="Opens the seed store's shutter in the morning. Bet: a printed pinion lasts a year.",
        aim={"purpose": "Slide the seed store's shutter", "travel_mm": 1200.0, "speed_mm_s": 80.0, "acceleration_mm_s2": 200.0, "error_mm": 2.0, "budget": 150.0},
        guide={"kind": "plain", "friction": 0.2, "rail_mm": 1500.0, "carriage_mm": 200.0, "drag_n": 4.0},
        moving=[mass("Shutter", 3.8)],
        chain=[{"kind": "stepper", **part("stepper:stepper-nema-17-48", 16.0), "driver": _driver(24.0, 1.6, 24.0)}, {"kind": "gearbox", **part("gearbox:planetary-gearbox-small-frame-5-1", 38.0)}],
        end={"rack": {"label": "Printed rack, in pieces", "price": 4.0}, "pinion": {"label": "Printed pinion", "price": 1.0}, "module_mm": 1.5, "teeth": 18, "face_mm": 15.0, "material": "PLA", "pieces": 6},
    )  # fmt: skip


MORE: tuple[tuple[str, str, tuple[Any, ...]], ...] = (
    ("Clay printer", "Prints walls of clay on a board.", (clay_head, clay_lift, carriage)),
    ("Drying shelves", "Watches how fast the ware dries.", (probe,)),
    ("Kiln room", "Loads, lifts and opens.", (loader, hoist)),
    ("Trimming bench", "Trims bowls and rolls slabs.", (trimming, roller_feed, potters_wheel)),
    ("Spray booth", "Sprays glaze behind a screen with extraction.", (spray_arm,)),
    ("Tray rover", "Waters the seed trays.", (rover,)),
    ("Seed store", "Opens in the morning, closes at night.", (shutter,)),
)
