"""Swaps of motor, supply, gearbox, closed belt and coupler."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..fitting.drawer import Stock, of_kind
from ..fitting.parts import (
    closed_belt_taken,
    coupler_of,
    face_for,
    gearbox_of,
    motor_of,
    pulley_on,
    stock_pulleys,
    supply_of,
)
from ..fitting.stock_belts import stock_teeth
from ..fitting.taking import follow, on_shaft
from ..formulas.belt import open_belt_length, pitch_diameter
from ..ledger.amounts import said
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.couplings import Coupler
from ..parts.stages.gearbox import Gearbox
from ..parts.stages.stepper import Stepper
from .loops import closed_belts
from .swap import Swap, cost, neighbours, on_chain, setting, total
from .swaps_end import retension

RATIOS = (1.5, 2.0, 3.0, 4.0)  # of closed belts that might be put in


def motors(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    """Other motors."""
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
        before = now.label or said(now.hold_torque_nm, "N·m")
        yield Swap(
            "Take another motor",
            "chain.0.hold_torque_nm",
            before,
            row.name,
            changes | follows,
            total(cost(row), more),
            "part",
        )


def driver(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    """More or less current, another supply, other microsteps."""
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
    yield setting(
        "Set the driver to the motor's rated current", f"{at}.current_a", driver.current_a, rated, "A"
    )
    yield setting("Keep full current while standing", f"{at}.idle_percent", driver.idle_percent, 100.0, "%")
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


def gearboxes(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
    """A gearbox more, another one, or none."""
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
            says, field, before, row.name, on_chain(design, stages) | follows, total(cost(row), more), "part"
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
            on_chain(design, left) | follows,
            more,
            "part",
        )


def closed(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> Iterator[Swap]:
    """A closed belt more, or another one."""
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
    (choices, rows), _ = closed_belts(design, ClosedBelt(), profiles, some, (motor.shaft_mm,), True)
    for ratio in RATIOS:
        near = [i for i, r in enumerate(rows) if abs(r["ratio"] / ratio - 1) < 0.08]
        if near:
            best = min(near, key=lambda i: (rows[i]["spend"], -rows[i]["stiffness_nm_rad"]))
            driver = choices[best].changes["driver"][0]
            stage = dict(choices[best].changes["stage"])
            stage["driver"] = stage["driver"] | driver.fields
            follows, more = on_shaft(design, stock_pulleys(drawer), [motor, stage], 1, stage["shaft_mm"])
            price = total(rows[best]["spend"], more)
            yield Swap(
                "Add a closed belt stage",
                "chain",
                "direct",
                choices[best].name,
                on_chain(design, [stage]) | follows,
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
        for teeth in neighbours(sorted(wide), now.teeth):
            other = stage.driven if part == "driver" else stage.driver
            r = [float(pitch_diameter(z, profile.pitch_mm)) / 2 for z in (teeth, other.teeth)]
            wanted = float(open_belt_length(max(centre, sum(r) + 1), *r)) / profile.pitch_mm
            belt = min(lengths, key=lambda z: abs(z - wanted), default=None)
            if belt is None:
                continue
            more = (part == "driven") == (teeth > now.teeth)
            pulley = pulley_on(stock[teeth], wide[teeth], shafts[part])
            changes = {f"{here}.{part}.{n}": v for n, v in pulley.fields.items()}
            paid: list[float | None] = [pulley.spend]
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
                total(*paid),
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
            price = total(cost(row), both[0][1], both[1][1])
            yield Swap(
                "Another width of the closed belt",
                f"{here}.belt.width_mm",
                said(width, "mm"),
                said(wider, "mm"),
                changes,
                price,
                "part",
            )
    yield from retension(f"{here}.belt.tension_n", stage.belt.tension_n)


def couplers(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Swap]:
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
                    before = stage.label or stage.main_number()[0]
                    yield Swap(
                        "Take another coupler",
                        f"chain.{j}.stiffness_nm_rad",
                        before,
                        row.name,
                        changes,
                        cost(row),
                        "part",
                    )
