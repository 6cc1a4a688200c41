"""The single changes worth trying: parts from the drawer, settings, sizes, layouts, and asking for less."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import chain as in_turn
from typing import Any, Literal

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..fitting.drawer import Stock, of_kind
from ..fitting.parts import (
    NAMELESS,
    closed_belt_taken,
    coupler_of,
    face_for,
    gearbox_of,
    motor_of,
    pulley_on,
    rack_of,
    screw_of,
    stock_pulleys,
    supply_of,
)
from ..fitting.stock_belts import stock_teeth
from ..fitting.taking import follow, on_shaft
from ..formulas.belt import open_belt_length, pitch_diameter
from ..ledger.record import record
from ..parts.ends.belt_end import BeltEnd
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.couplings import Coupler
from ..parts.stages.gearbox import Gearbox
from ..parts.stages.stepper import Stepper
from .space import belts_on, closed_belts, idler_for

Kind = Literal["setting", "part", "make", "layout", "aim"]
MOST_OF_A_KIND = 80
RATIOS = (1.5, 2.0, 3.0, 4.0)  # of closed belts that might be put in


@record
class Swap:
    """One change: its sentence, the field that tells of it, before and after in words, what it sets, and what
    it costs.

    `price` is what is still to pay, None where it is not known. A setting or a piece made in the shop costs
    nothing.
    """

    says: str
    field: str
    before: str
    after: str
    changes: dict[str, Any]
    price: float | None
    kind: Kind


def swaps(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], belt_mm: float | None
) -> list[Swap]:
    """Every single change from a design; `belt_mm` is the open belt it takes, where it has one."""
    found = in_turn(
        _motors(design, drawer),
        _driver(design, drawer),
        _gearboxes(design, drawer),
        _closed(design, profiles, drawer),
        _belts(design, profiles, drawer, belt_mm),
        _screws_and_racks(design, drawer),
        _couplers(design, drawer),
        _held(design),
        _sizes(design),
        _layouts(design),
        _less(design),
    )
    kinds: dict[str, list[Swap]] = {}
    for swap in found:
        if swap.before != swap.after:
            kinds.setdefault(swap.says, []).append(swap)
    # Of a kind of which the drawer holds very many, the cheapest; the others in the order in which they were
    # found.
    return [
        s
        for kind in kinds.values()
        for s in (kind if len(kind) <= MOST_OF_A_KIND else sorted(kind, key=_dear)[:MOST_OF_A_KIND])
    ]


def _dear(swap: Swap) -> tuple[bool, float]:
    return swap.price is None, swap.price or 0.0


def cost(row: Stock) -> float | None:
    """What is still to pay for a row; None where its price is not known."""
    return 0.0 if row.quantity > 0 else row.price


def _sum(*prices: float | None) -> float | None:
    """What is to pay together; None where one of them is not known."""
    return None if any(p is None for p in prices) else math.fsum(p or 0.0 for p in prices)


def _motors(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    now = design.chain[0]
    if not isinstance(now, Stepper):
        return
    pulleys = stock_pulleys(drawer)
    for row in of_kind(drawer, "stepper"):
        data = motor_of(row)
        if data is None or row.key == now.drawer_key:
            continue
        changes = {f"chain.0.{n}": v for n, v in data.items()} | {
            "chain.0.driver.current_a": data["rated_current_a"],
            "chain.0.driver.current_is": "rms",
        }
        follows, more = on_shaft(design, pulleys, design.chain, 0, data["shaft_mm"])
        before = now.label or f"{now.hold_torque_nm:g} N·m"
        yield Swap(
            "Take another motor",
            "chain.0.hold_torque_nm",
            before,
            row.name,
            changes | follows,
            _sum(cost(row), more),
            "part",
        )


def _driver(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    now = design.chain[0]
    if not isinstance(now, Stepper):
        return
    driver, at = now.driver, "chain.0.driver"
    for row in of_kind(drawer, "supply"):
        data = supply_of(row)
        if data is not None and data["supply_v"] != driver.supply_v:
            word = (
                "Raise the supply voltage"
                if data["supply_v"] > driver.supply_v
                else "Take a lower supply voltage"
            )
            changes = {f"{at}.{n}": v for n, v in data.items()}
            yield Swap(
                word,
                f"{at}.supply_v",
                f"{driver.supply_v:g} V",
                f"{data['supply_v']:g} V",
                changes,
                cost(row),
                "part",
            )
    rated = round(now.rated_current_a * (2**0.5 if driver.current_is == "peak" else 1.0), 3)
    yield _set("Set the driver to the motor's rated current", f"{at}.current_a", driver.current_a, rated, "A")
    yield _set("Keep full current while standing", f"{at}.idle_percent", driver.idle_percent, 100.0, "%")
    for steps in (4, 8, 16, 32, 64):
        word = "Take more microsteps" if steps > driver.microsteps else "Take fewer microsteps"
        yield Swap(
            word,
            f"{at}.microsteps",
            f"1/{driver.microsteps}",
            f"1/{steps}",
            {f"{at}.microsteps": steps},
            0.0,
            "setting",
        )


def _set(says: str, field: str, before: float, after: float, unit: str, kind: Kind = "setting") -> Swap:
    return Swap(
        says,
        field,
        f"{before:g} {unit}".strip(),
        f"{after:g} {unit}".strip(),
        {field: after},
        None if kind == "part" else 0.0,
        kind,
    )


def _chain(design: AxisDesign, stages: Sequence[Any]) -> dict[str, Any]:
    """The chain with other stages after the motor."""
    return {
        "chain": [
            design.chain[0].model_dump(mode="json"),
            *(s if isinstance(s, dict) else s.model_dump(mode="json") for s in stages),
        ]
    }


def _gearboxes(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    if not isinstance(design.chain[0], Stepper):
        return
    rest = list(design.chain[1:])
    at = next((j for j, s in enumerate(design.chain) if isinstance(s, Gearbox)), None)
    now: Any = None if at is None else design.chain[at]
    before = "direct" if now is None else now.label or f"{now.ratio:g} : 1"
    pulleys = stock_pulleys(drawer)
    for row in of_kind(drawer, "gearbox"):
        box = gearbox_of(row)
        if box is None or (now is not None and row.key == now.drawer_key):
            continue
        stages: list[Any] = (
            [box, *rest] if at is None else [box if j == at else s for j, s in enumerate(design.chain)][1:]
        )
        says = "Add a gearbox" if at is None else "Take another gearbox"
        field = "chain" if at is None else f"chain.{at}.ratio"
        follows, more = on_shaft(design, pulleys, [design.chain[0], *stages], at or 1, box["shaft_mm"])
        yield Swap(
            says, field, before, row.name, _chain(design, stages) | follows, _sum(cost(row), more), "part"
        )
    if at is not None:
        left = [s for j, s in enumerate(design.chain) if j != at][1:]
        shaft = getattr(design.chain[at - 1], "shaft_mm", 0.0)
        follows, more = on_shaft(design, pulleys, [design.chain[0], *left], at - 1, shaft)
        yield Swap(
            "Leave the gearbox out",
            f"chain.{at}.ratio",
            before,
            "direct",
            _chain(design, left) | follows,
            more,
            "part",
        )


def _closed(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> Iterator[Swap]:
    at = next((j for j, s in enumerate(design.chain) if isinstance(s, ClosedBelt)), None)
    if at is not None:
        yield from _closed_steps(design, at, profiles, drawer)
    elif isinstance(design.chain[0], Stepper) and len(design.chain) == 1:
        yield from _closed_new(design, profiles, drawer)


def _closed_new(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[Swap]:
    """One closed belt for each of a few ratios: the cheapest of the belt's own profile, or of the first
    profile with stock.
    """
    own = getattr(getattr(design.end, "belt", None), "profile", "")
    with_stock = dict.fromkeys(str(r.data.get("profile")) for r in of_kind(drawer, "closed belt"))
    key = own if own in with_stock else next(iter(with_stock), None)
    some = [r for r in drawer if r.kind in ("closed belt", "pulley") and r.data.get("profile") == key]
    motor: Any = design.chain[0]
    (choices, rows), _ = closed_belts(
        ClosedBelt(), profiles, some, (motor.shaft_mm,), design.assumptions.slack_keep, True
    )
    for ratio in RATIOS:
        near = [i for i, r in enumerate(rows) if abs(r["ratio"] / ratio - 1) < 0.08]
        if near:
            best = min(
                near, key=lambda i: (choices[i].unpriced, rows[i]["spend"], -rows[i]["stiffness_nm_rad"])
            )
            driver = choices[best].changes["driver"][0]
            stage = dict(choices[best].changes["stage"])
            stage["driver"] = stage["driver"] | driver.fields
            follows, more = on_shaft(design, stock_pulleys(drawer), [motor, stage], 1, stage["shaft_mm"])
            price = None if choices[best].unpriced or driver.unpriced else _sum(rows[best]["spend"], more)
            yield Swap(
                "Add a closed belt stage",
                "chain",
                "direct",
                choices[best].name,
                _chain(design, [stage]) | follows,
                price,
                "part",
            )


def _closed_steps(
    design: AxisDesign, at: int, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[Swap]:
    """Neighbouring pulleys with the stock belt that keeps the shafts nearest to where they are, and other
    widths.
    """
    stage: Any = design.chain[at]
    profile = profiles.get(stage.belt.profile)
    if profile is None or stage.rollers:
        return
    pulleys, width = stock_pulleys(drawer), stage.belt.width_mm
    stock, lengths = pulleys.get(profile.key, {}), stock_teeth(drawer, profile.key, width)
    here = f"chain.{at}"
    shafts = {
        "driver": getattr(design.chain[at - 1], "shaft_mm", stage.driver.bore_mm),
        "driven": stage.shaft_mm,
    }
    radii = [float(pitch_diameter(p.teeth, profile.pitch_mm)) / 2 for p in (stage.driver, stage.driven)]
    # About where the shafts are, from the straight runs alone.
    centre = max(sum(radii) + 1, (stage.belt_teeth * profile.pitch_mm - 3.1416 * sum(radii)) / 2)
    for part, now in (("driver", stage.driver), ("driven", stage.driven)):
        wide = {
            z: face
            for z, rows in stock.items()
            if z >= profile.min_teeth and (face := face_for(rows, width)) is not None
        }
        for teeth in _neighbours(sorted(wide), now.teeth):
            other = stage.driven if part == "driver" else stage.driver
            r = [float(pitch_diameter(z, profile.pitch_mm)) / 2 for z in (teeth, other.teeth)]
            wanted = float(open_belt_length(max(centre, sum(r) + 1), *r)) / profile.pitch_mm
            belt = min(lengths, key=lambda z: abs(z - wanted), default=None)
            if belt is None:
                continue
            more = (part == "driven") == (teeth > now.teeth)
            pulley = pulley_on(stock[teeth], wide[teeth], shafts[part])
            changes = {f"{here}.{part}.{n}": v for n, v in pulley.fields.items()}
            paid = [None if pulley.unpriced else pulley.spend]
            if belt != stage.belt_teeth:
                changes |= closed_belt_taken(here, lengths[belt])
                paid.append(cost(lengths[belt]))
            says = "More reduction in the closed belt" if more else "Less reduction in the closed belt"
            yield Swap(
                says,
                f"{here}.{part}.teeth",
                f"{now.teeth} teeth",
                f"{teeth} teeth",
                changes,
                _sum(*paid),
                "part",
            )
    for row in of_kind(drawer, "closed belt"):
        d = row.data
        if (
            d.get("profile") == profile.key
            and d.get("belt_teeth") == stage.belt_teeth
            and d.get("width_mm") != width
        ):
            wider = float(d["width_mm"])
            both = [
                follow(f"{here}.{n}", p, stage.belt, pulleys, shafts[n], wider)
                for n, p in (("driver", stage.driver), ("driven", stage.driven))
            ]
            changes = closed_belt_taken(here, row) | both[0][0] | both[1][0]
            price = _sum(cost(row), both[0][1], both[1][1])
            yield Swap(
                "Another width of the closed belt",
                f"{here}.belt.width_mm",
                f"{width:g} mm",
                f"{wider:g} mm",
                changes,
                price,
                "part",
            )
    yield from _tension(f"{here}.belt.tension_n", stage.belt.tension_n)


def _tension(field: str, now: float | None) -> Iterator[Swap]:
    if now is not None:
        yield Swap(
            "Set the tension to the target", field, f"{now:g} N", "target", {field: None}, 0.0, "setting"
        )


def _belts(
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
        belt_price = None if choice.unpriced else r["per_m"] * metres
        if same_belt and teeth != end.pulley.teeth:
            word = "Take a larger drive pulley" if teeth > end.pulley.teeth else "Take a smaller drive pulley"
            own = {f"end.pulley.{n}": v for n, v in pulley.fields.items()}
            price = None if pulley.unpriced else pulley.spend
            yield Swap(
                word, "end.pulley.teeth", f"{end.pulley.teeth} teeth", f"{teeth} teeth", own, price, "part"
            )
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
            price = _sum(belt_price, pulley_price, idler_price)
            before = f"{now.width_mm:g} mm, {now.cord}"
            yield Swap(
                word,
                "end.belt.width_mm",
                before,
                f"{width:g} mm, {cord}",
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
        price = (
            None
            if choice.unpriced or pulley.unpriced
            else pulley.spend + r["idler_more"] + r["per_m"] * metres
        )
        toothed = getattr(getattr(end, "idler", None), "kind", "") == "toothed"
        changes = {n: v for n, v in choice.changes.items() if toothed or n != "end.idler.teeth"}
        changes |= {f"end.pulley.{n}": v for n, v in pulley.fields.items()}
        after = f"{profiles[key].name}, {r['width']:g} mm, {r['teeth']:g} teeth"
        yield Swap(
            "Take another belt profile", "end.belt.profile", profile.name, after, changes, price, "part"
        )
    yield from _tension("end.belt.tension_n", now.tension_n)


def _screws_and_racks(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
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


def _couplers(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    """Couplers of other stiffness for the shaft that comes after."""
    for j, stage in enumerate(design.chain):
        if isinstance(stage, Coupler):
            for row in drawer:
                data = coupler_of(row)
                if (
                    data is not None
                    and data["shaft_mm"] == stage.shaft_mm
                    and data["stiffness_nm_rad"] != stage.stiffness_nm_rad
                ):
                    changes = {f"chain.{j}.{n}": v for n, v in data.items() if n != "kind"}
                    before = stage.label or f"{stage.form}, {stage.stiffness_nm_rad:g} N·m/rad"
                    yield Swap(
                        "Take another coupler",
                        f"chain.{j}.stiffness_nm_rad",
                        before,
                        row.name,
                        changes,
                        cost(row),
                        "part",
                    )


def rows_of(columns: Mapping[str, Any]) -> list[dict[str, float]]:
    """Columns as rows."""
    names = list(columns)
    return [
        dict(zip(names, values, strict=True))
        for values in zip(*(columns[n].tolist() for n in names), strict=True)
    ]


def _neighbours(sizes: Sequence[float], size: float, each: int = 2) -> list[Any]:
    """The next sizes below and above."""
    return [s for s in sizes if s < size][-each:] + [s for s in sizes if s > size][:each]


def _held(design: AxisDesign) -> Iterator[Swap]:
    """Mounts, clamps, tensioner, fixing and idler: pieces made or set in the shop."""
    for path, mount in _mounts(design):
        name = path.rpartition(".")[2].replace("_", " ")
        if mount.kind == "plate":
            yield _set(
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
            yield _set(
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
    yield _set(
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
    yield _set(
        "Give the tensioner 5 mm more",
        "end.tensioner.travel_mm",
        end.tensioner.travel_mm,
        end.tensioner.travel_mm + 5,
        "mm",
        "make",
    )
    if end.tensioner.screw_length_mm is not None:
        yield _set(
            "Take a longer tensioner screw",
            "end.tensioner.screw_length_mm",
            end.tensioner.screw_length_mm,
            end.tensioner.screw_length_mm + 10,
            "mm",
            "part",
        )
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
        yield _set(
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


def _mounts(design: AxisDesign) -> Iterator[tuple[str, Any]]:
    for j, stage in enumerate(design.chain):
        if isinstance(stage, ClosedBelt):
            yield f"chain.{j}.motor_mount", stage.motor_mount
    if isinstance(design.end, BeltEnd):
        for name, mount in design.end.mounts().items():
            yield f"end.{name}", mount


# Fields of other ends and stages, by path: the sentence for more and for less, and the sizes that are made.
SIZES: tuple[tuple[str, str, str, str, str, tuple[float, ...]], ...] = (
    (r"end\.backlash_mm", "screw", "", "Take a nut without play", "mm", (0.0,)),
    (r"end\.backlash_mm", "rack", "", "Spring the pinion against the rack", "mm", (0.0,)),
    (r"end\.diameter_mm", "drum", "Take a larger drum", "Take a smaller drum", "mm", (15, 20, 25, 30, 40, 50, 60, 80, 100)),
    (r"end\.rope_mm", "drum", "Take a thicker rope", "Take a thinner rope", "mm", (1, 1.5, 2, 3, 4, 5, 6)),
    (r"end\.height_mm", "joint", "Make the arm's section higher", "Make the arm's section lower", "mm", (10, 15, 20, 25, 30, 40, 50)),
    (r"end\.length_mm", "joint", "", "Make the arm shorter", "mm", (100, 150, 200, 250, 300, 350, 400, 500, 600, 800)),
    (r"end\.diameter_mm", "wheel", "Take larger wheels", "Take smaller wheels", "mm", (40, 60, 80, 100, 120, 150, 200, 250)),
    (r"end\.motors", "wheel", "Drive it with more motors", "", "motors", (1, 2, 4)),
    (r"chain\.\d+\.starts", "worm", "Take a worm of more threads", "Take a worm of fewer threads", "threads", (1, 2, 3, 4)),
    (r"chain\.\d+\.wheel_teeth", "worm", "Take a larger worm wheel", "Take a smaller worm wheel", "teeth", (20, 30, 40, 50, 60, 80)),
    (r"chain\.\d+\.duty_percent", "gearmotor", "Run the motor at a higher duty", "", "%", (60, 80, 100)),
)  # fmt: skip
SETTINGS = ("duty_percent",)


def _sizes(design: AxisDesign) -> Iterator[Swap]:
    parts: list[tuple[str, Any]] = [
        ("end", design.end),
        *((f"chain.{j}", s) for j, s in enumerate(design.chain)),
    ]
    for at, part in parts:
        for pattern, kind, up, down, unit, sizes in SIZES:
            name = pattern.rpartition(r"\.")[2]
            now = getattr(part, name, None)
            if part.kind != kind or now is None or not re.fullmatch(pattern, f"{at}.{name}"):
                continue
            for size in _neighbours(sizes, now):
                says = up if size > now else down
                if says:
                    whole = int(size) if isinstance(now, int) else float(size)
                    swap = _set(
                        says, f"{at}.{name}", now, whole, unit, "setting" if name in SETTINGS else "part"
                    )
                    other = (
                        {"end.nut": {**NAMELESS, "label": "Nut without play"}}
                        if (kind, name) == ("screw", "backlash_mm")
                        else {}
                    )
                    yield replace(swap, changes=swap.changes | other)


def _layouts(design: AxisDesign) -> Iterator[Swap]:
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


def _less(design: AxisDesign) -> Iterator[Swap]:
    aim = design.aim
    for part in (0.75, 0.5):
        yield _set(
            "Ask for less acceleration",
            "aim.acceleration_mm_s2",
            aim.acceleration_mm_s2,
            round(aim.acceleration_mm_s2 * part, 6),
            "mm/s²",
            "aim",
        )
        yield _set(
            "Ask for less speed",
            "aim.speed_mm_s",
            aim.speed_mm_s,
            round(aim.speed_mm_s * part, 6),
            "mm/s",
            "aim",
        )
    if aim.push_n > 0:
        yield _set("Ask for less push", "aim.push_n", aim.push_n, round(aim.push_n * 0.75, 6), "N", "aim")
    yield _set("Allow twice the error", "aim.error_mm", aim.error_mm, aim.error_mm * 2, "mm", "aim")
