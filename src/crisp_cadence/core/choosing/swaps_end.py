"""Swaps of belt, screw, rack and layout, what holds them, and asking for less."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from ..account.report import Report
from ..design.design import AxisDesign
from ..fields.belts import Mount, Tensioner
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.parts import NAMELESS, rack_of, screw_of, stock_pulleys
from ..fitting.taking import follow
from ..ledger.amounts import said
from ..parts.ends.belt_end import BeltEnd
from ..parts.stages.closed_belt import ClosedBelt
from .belts import belts_on, idler_for
from .swap import Swap, cost, neighbours, rows_of, setting, total


def retension(field: str, now: float | None) -> Iterator[Swap]:
    """Back to the target, where a tension was chosen."""
    if now is not None:
        yield Swap(
            "Set the tension to the target", field, said(now, "N"), "target", {field: None}, 0.0, "setting"
        )


def belts(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], belt_mm: float | None
) -> Iterator[Swap]:
    """Other teeth on the same belt, other widths and cords of the same profile, and the nearest of every
    other profile.
    """
    end: Any = design.end
    if not isinstance(end, BeltEnd) or end.belt.profile not in profiles:
        return
    now, profile = end.belt, profiles[end.belt.profile]
    metres, across = (belt_mm or 0.0) / 1000, profile.pitch_mm * end.pulley.teeth
    shaft = getattr(design.chain[-1], "shaft_mm", end.pulley.bore_mm)
    choices, columns, fitted = belts_on(design, profiles, drawer, (shaft,))
    rows, pulleys = rows_of(columns), stock_pulleys(drawer)
    nearest: dict[str, tuple[float, int]] = {}
    least = min(
        (
            r["teeth"]
            for c, r in zip(choices, rows, strict=True)
            if c.changes["end.belt.profile"] == now.profile
        ),
        default=0,
    )
    for i, (choice, r) in enumerate(zip(choices, rows, strict=True)):
        c, pulley = choice.changes, fitted[i][0]
        key, width, cord, teeth = c["end.belt.profile"], r["width"], c["end.belt.cord"], int(r["teeth"])
        same_belt = key == now.profile and width == now.width_mm and cord == now.cord
        belt_price = r["per_m"] * metres
        if same_belt and teeth != end.pulley.teeth:
            word = "Take a larger drive pulley" if teeth > end.pulley.teeth else "Take a smaller drive pulley"
            own = {f"end.pulley.{n}": v for n, v in pulley.fields.items()}
            before, after = f"{end.pulley.teeth} teeth", f"{teeth} teeth"
            yield Swap(word, "end.pulley.teeth", before, after, own, pulley.spend, "part")
        elif key == now.profile and teeth == least and (width, cord) != (now.width_mm, now.cord):
            word = (
                "Take a wider belt"
                if width > now.width_mm
                else "Take a narrower belt"
                if width < now.width_mm
                else "Take the other cord"
            )
            belt = {n: v for n, v in c.items() if n.startswith("end.belt.")}
            carried, idler_price = idler_for(end, profile, width) if width > now.width_mm else ({}, 0.0)
            wider, pulley_price = follow("end.pulley", end.pulley, end.belt, pulleys, shaft, width)
            price = total(belt_price, pulley_price, idler_price)
            before = f"{said(now.width_mm, 'mm')}, {now.cord}"
            yield Swap(
                word,
                "end.belt.width_mm",
                before,
                f"{said(width, 'mm')}, {cord}",
                belt | carried | wider,
                price,
                "part",
            )
        elif key != now.profile:
            off = (
                abs(r["pitch"] * teeth / across - 1)
                + 0.1 * abs(width / now.width_mm - 1)
                + (0.05 if cord != now.cord else 0.0)
            )
            if key not in nearest or off < nearest[key][0]:
                nearest[key] = (off, i)
    for key, (_, i) in nearest.items():
        choice, r, pulley = choices[i], rows[i], fitted[i][0]
        price = pulley.spend + r["idler_more"] + r["per_m"] * metres
        toothed = getattr(getattr(end, "idler", None), "kind", "") == "toothed"
        changes = {n: v for n, v in choice.changes.items() if toothed or n != "end.idler.teeth"}
        changes |= {f"end.pulley.{n}": v for n, v in pulley.fields.items()}
        after = f"{profiles[key].name}, {r['width']:g} mm, {r['teeth']:g} teeth"
        yield Swap(
            "Take another belt profile", "end.belt.profile", profile.name, after, changes, price, "part"
        )
    yield from retension("end.belt.tension_n", now.tension_n)


def screws_and_racks(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    """Other screws and racks."""
    end: Any = design.end
    for kind, says, read, part, field in (
        ("screw", "Take another screw", screw_of, "screw", "end.diameter_mm"),
        ("rack", "Take another rack and pinion", rack_of, "rack", "end.module_mm"),
    ):
        if end.kind != kind:
            continue
        now = (
            f"Tr {end.diameter_mm:g} × {end.pitch_mm * end.starts:g}"
            if kind == "screw"
            else f"module {end.module_mm:g}, {end.teeth} teeth"
        )
        for row in drawer:
            data = read(row)
            if data is not None and any(getattr(end, n) != v for n, v in data.items() if n != part):
                yield Swap(
                    says,
                    field,
                    getattr(end, part).label or now,
                    row.name,
                    {f"end.{n}": v for n, v in data.items()},
                    cost(row),
                    "part",
                )


def held(design: AxisDesign) -> Iterator[Swap]:
    """Mounts, clamps, tensioner, fixing and idler: pieces made or set in the shop."""
    for path, mount in mounts(design):
        name = path.rpartition(".")[2].replace("_", " ")
        if mount.kind == "plate":
            yield setting(
                f"Make the {name} 2 mm thicker",
                f"{path}.thickness_mm",
                mount.thickness_mm,
                mount.thickness_mm + 2,
                "mm",
                "make",
            )
            if mount.material not in ("aluminium", "steel"):
                yield Swap(
                    f"Make the {name} of aluminium",
                    f"{path}.material",
                    mount.material,
                    "aluminium",
                    {f"{path}.material": "aluminium"},
                    None,
                    "part",
                )
        if mount.slotted:
            yield setting(
                f"Hold the {name} with two bolts more",
                f"{path}.bolts",
                mount.bolts,
                mount.bolts + 2,
                "bolts",
                "make",
            )
    end: Any = design.end
    if not isinstance(end, BeltEnd):
        return
    yield setting(
        "Hold two teeth more at each belt end",
        "end.clamp.engaged_teeth",
        end.clamp.engaged_teeth,
        end.clamp.engaged_teeth + 2,
        "teeth",
        "make",
    )
    if end.clamp.kind != "toothed plate":
        yield Swap(
            "Hold the belt ends in a toothed plate",
            "end.clamp.kind",
            end.clamp.kind,
            "toothed plate",
            {"end.clamp.kind": "toothed plate"},
            0.0,
            "make",
        )
    yield from _tensioner(end.tensioner)
    for kind in ("set screw on flat", "clamp"):
        if end.pulley.fixing.kind.startswith("set screw on round") or (
            kind == "clamp" and end.pulley.fixing.kind == "set screw on flat"
        ):
            yield Swap(
                "Fix the pulley better",
                "end.pulley.fixing.kind",
                end.pulley.fixing.kind,
                kind,
                {"end.pulley.fixing.kind": kind},
                0.0 if kind != "clamp" else None,
                "make" if kind != "clamp" else "part",
            )
    if end.pulley.overhang_mm > 8:
        nearer = max(end.pulley.overhang_mm - 4, 6.0)
        yield setting(
            "Bring the pulley nearer to the motor",
            "end.pulley.overhang_mm",
            end.pulley.overhang_mm,
            nearer,
            "mm",
            "make",
        )
    idler: Any = getattr(design.end, "idler", None)
    if idler is not None and idler.held == "one end":
        yield Swap(
            "Hold the idler's axle at both ends",
            "end.idler.held",
            "one end",
            "both ends",
            {"end.idler.held": "both ends"},
            0.0,
            "make",
        )


def _tensioner(now: Tensioner) -> Iterator[Swap]:
    if now.kind == "none":
        yield Swap(
            "Take up the slack with a movable clamp",
            "end.tensioner.kind",
            "none",
            "movable clamp",
            {"end.tensioner.kind": "movable clamp"},
            None,
            "part",
        )
        return
    travel, long = now.travel_mm, now.screw_length_mm
    yield setting("Give the tensioner 5 mm more", "end.tensioner.travel_mm", travel, travel + 5, "mm", "make")
    if long is not None:
        at = "end.tensioner.screw_length_mm"
        yield setting("Take a longer tensioner screw", at, long, long + 10, "mm", "part")


def mounts(design: AxisDesign) -> Iterator[tuple[str, Mount]]:
    """What holds shafts and idlers, by path."""
    for j, stage in enumerate(design.chain):
        if isinstance(stage, ClosedBelt):
            yield f"chain.{j}.motor_mount", stage.motor_mount
            yield f"chain.{j}.driven_mount", stage.driven_mount
    if isinstance(design.end, BeltEnd):
        for name, mount in design.end.mounts().items():
            yield f"end.{name}", mount


# Fields of other ends and stages, by path: the sentence for more and for less, the sizes that are made, and
# the part that is bought anew for it ("." for the stage itself, nothing where it stays what it is).
SIZES: tuple[tuple[str, str, str, str, str, tuple[float, ...], str], ...] = (
    (r"end\.backlash_mm", "screw", "", "Take a nut without play", "mm", (0.0,), "nut"),
    (r"end\.backlash_mm", "rack", "", "Spring the pinion against the rack", "mm", (0.0,), ""),
    (r"end\.diameter_mm", "drum", "Take a larger drum", "Take a smaller drum", "mm", (15, 20, 25, 30, 40, 50, 60, 80, 100), "drum"),
    (r"end\.rope_mm", "drum", "Take a thicker rope", "Take a thinner rope", "mm", (1, 1.5, 2, 3, 4, 5, 6), "rope"),
    (r"end\.height_mm", "joint", "Make the arm's section higher", "Make the arm's section lower", "mm", (10, 15, 20, 25, 30, 40, 50), "arm"),
    (r"end\.length_mm", "joint", "", "Make the arm shorter", "mm", (100, 150, 200, 250, 300, 350, 400, 500, 600, 800), "arm"),
    (r"end\.diameter_mm", "wheel", "Take larger wheels", "Take smaller wheels", "mm", (40, 60, 80, 100, 120, 150, 200, 250), "wheel"),
    (r"end\.motors", "wheel", "Drive it with more motors", "", "motors", (1, 2, 4), ""),
    (r"chain\.\d+\.starts", "worm", "Take a worm of more threads", "Take a worm of fewer threads", "threads", (1, 2, 3, 4), "."),
    (r"chain\.\d+\.wheel_teeth", "worm", "Take a larger worm wheel", "Take a smaller worm wheel", "teeth", (20, 30, 40, 50, 60, 80), "."),
    (r"chain\.\d+\.duty_percent", "gearmotor", "Run the motor at a higher duty", "", "%", (60, 80, 100), ""),
)  # fmt: skip


SETTINGS = ("duty_percent",)


def sizes(design: AxisDesign) -> Iterator[Swap]:
    """Sizes made in the shop, and settings."""
    parts: list[tuple[str, Any]] = [
        ("end", design.end),
        *((f"chain.{j}", s) for j, s in enumerate(design.chain)),
    ]
    for at, part in parts:
        for pattern, kind, up, down, unit, sizes, bought in SIZES:
            name = pattern.rpartition(r"\.")[2]
            now = getattr(part, name, None)
            if part.kind != kind or now is None or not re.fullmatch(pattern, f"{at}.{name}"):
                continue
            for size in neighbours(sizes, now):
                says = up if size > now else down
                if says:
                    whole = int(size) if isinstance(now, int) else float(size)
                    swap = setting(
                        says, f"{at}.{name}", now, whole, unit, "setting" if name in SETTINGS else "part"
                    )
                    anew = f"{at}.{bought}".rstrip(".")
                    other = {f"{anew}.{n}": v for n, v in NAMELESS.items()} if bought else {}
                    if bought == "nut":
                        other[f"{anew}.label"] = "Nut without play"
                    yield replace(swap, changes=swap.changes | other)


def layouts(design: AxisDesign) -> Iterator[Swap]:
    """The motor on the carriage instead of at the end of the rail, and the other way round."""
    end: Any = design.end
    kept = ("belt", "pulley", "clamp", "tensioner")
    if end.kind == "carriage_loop" and design.sides.kind == "one":
        made = {n: getattr(end, n).model_dump(mode="json") for n in kept} | {"kind": "riding_motor"}
        made["idler"] = {"kind": "smooth", "diameter_mm": 18.0, "width_mm": end.belt.width_mm + 1}
        yield Swap(
            "Let the motor ride on the carriage",
            "end.kind",
            "carriage loop",
            "riding motor",
            {"end": made},
            None,
            "layout",
        )
    elif end.kind == "riding_motor":
        made = {n: getattr(end, n).model_dump(mode="json") for n in kept} | {"kind": "carriage_loop"}
        made["idler"] = {
            "kind": "toothed",
            "teeth": max(end.pulley.teeth, 16),
            "width_mm": end.belt.width_mm + 1,
        }
        yield Swap(
            "Let the motor stand at the end of the rail",
            "end.kind",
            "riding motor",
            "carriage loop",
            {"end": made},
            None,
            "layout",
        )


def braked(design: AxisDesign, report: Report, alone: bool = False) -> Iterator[Swap]:
    """A brake for what would fall when the power goes; `alone` for one that needs no motor to help it."""
    for rung in report.ladder:
        if (
            rung.key == "unpowered"
            and (alone or rung.verdict in ("short", "tight"))
            and rung.demand
            and rung.capacity is not None
        ):
            now = design.aim.brake_n
            there = 0.0 if alone else rung.capacity - (now or 0.0)
            whole = upward(rung.demand * rung.margin - there)
            yield Swap(
                "Fit a brake" if now is None else "Fit a stronger brake",
                "aim.brake_n",
                "none" if now is None else said(now, "N"),
                said(whole, "N"),
                {"aim.brake_n": whole, **{f"aim.brake.{n}": none for n, none in NAMELESS.items()}},
                None,
                "part",
            )


def upward(value: float) -> float:
    """A value to two digits, rounded up.

    >>> upward(10.21), upward(3.0)
    (11.0, 3.0)
    """
    step = 10.0 ** (math.floor(math.log10(value)) - 1)
    return round(math.ceil(value / step - 1e-9) * step, 12)


def less(design: AxisDesign) -> Iterator[Swap]:
    """Asking for less."""
    aim = design.aim
    for part in (0.75, 0.5):
        yield setting(
            "Ask for less acceleration",
            "aim.acceleration_mm_s2",
            aim.acceleration_mm_s2,
            round(aim.acceleration_mm_s2 * part, 6),
            "mm/s²",
            "aim",
        )
        yield setting(
            "Ask for less speed",
            "aim.speed_mm_s",
            aim.speed_mm_s,
            round(aim.speed_mm_s * part, 6),
            "mm/s",
            "aim",
        )
    if aim.push_n > 0:
        yield setting("Ask for less push", "aim.push_n", aim.push_n, round(aim.push_n * 0.75, 6), "N", "aim")
    yield setting("Allow twice the error", "aim.error_mm", aim.error_mm, aim.error_mm * 2, "mm", "aim")
