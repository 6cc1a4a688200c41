"""What holds the pulleys: brackets, axles, and each pulley on its shaft."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..account.found import Pulled, Seat
from ..checks import holding
from ..checks.wheels import wheels
from ..evaluation.evaluate import Run
from ..fields.belts import Idler, Mount
from ..formulas import belt, running, springs
from ..formulas.brackets import HEAT_ROOM_C, SOFTENS_C
from ..geometry.route import Laid
from ..ledger.amounts import said
from ..parts.ends.contract import End
from ..parts.ends.loop_build import SOFT_PLASTICS
from . import bores
from .rows import Bracket, Variant


def brackets(run: Run, end: End, laid: Sequence[Laid]) -> list[Bracket]:
    """Every plate and axle under the belt's pull, as it is and stronger."""
    limit = run.design.assumptions.tilt_limit
    out = [_plate(p.at, p.name, p.mount, p.load_n, limit) for p in pulled(run, end)]
    for x in laid:
        for wheel in wheels(run.ctx, x):
            at, part, tension = wheel.at, wheel.part, x.tension_n
            if (
                isinstance(part, Idler)
                and tension is not None
                and all(b.part != f"{at}.axle_mm" for b in out)
            ):
                load = float(belt.shaft_load(tension, tension, wheel.wrap_rad))
                out.append(_stub(at, wheel.name, part, load, limit))
    return out


def pulled(run: Run, end: End) -> list[Pulled]:
    """Every mount that a belt pulls on, the end's first."""
    ctx = run.ctx
    return end.pulled(ctx) + [p for j, s in enumerate(run.stages) for p in s.pulled(f"chain.{j}", ctx)]


def _plate(at: str, name: str, mount: Mount, load: float | None, limit: float) -> Bracket:
    variants = []
    if mount.kind == "plate" and load is not None:
        own = (mount.material, mount.thickness_mm)
        tried = [
            own,
            (mount.material, mount.thickness_mm + 2),
            *((m, mount.thickness_mm) for m in ("aluminium", "steel") if m != mount.material),
        ]
        for material, thick in tried:
            modulus, creep = springs.MATERIALS[material]
            e = modulus / (1 + creep)
            k = float(springs.plate_stiffness(e, mount.width_mm, thick, mount.overhang_mm))
            tilt = float(springs.plate_tilt(load, e, mount.width_mm, thick, mount.overhang_mm))
            words = (
                f"as it is: {material}, {said(thick, 'mm')}"
                if (material, thick) == own
                else f"{material}, {said(thick, 'mm')}"
            )
            changed = (
                (f"{at}.thickness_mm", thick) if material == mount.material else (f"{at}.material", material)
            )
            variants.append(Variant(words, load / k, tilt, *changed))
    heat = ""
    if mount.kind == "plate" and mount.material in (*SOFT_PLASTICS, "plywood"):
        soft = SOFTENS_C[mount.material]
        heat = (
            f"{mount.material} begins to give near {soft:g} °C (from memory). Beside a motor 50 "
            f"to 70 °C are usual: keep it under {soft - HEAT_ROOM_C:g} °C, or take metal "
            f"there."
        )
    return Bracket(f"{at}", name, load, limit, tuple(variants), heat)


def _stub(at: str, name: str, idler: Idler, load: float, limit: float) -> Bracket:
    reach, e = max(holding.axle_reach(idler), 0.1), springs.MATERIALS["steel"][0]
    variants = []
    for d in (idler.axle_mm, idler.axle_mm + 2):
        moment = math.pi * d**4 / 64
        if idler.held == "one end":
            bend, tilt = (
                load * reach**3 / (3 * e * 1000 * moment),
                float(running.axle_tilt(load, e, d, reach)),
            )
        else:
            bend, tilt = load * (2 * reach) ** 3 / (48 * e * 1000 * moment), 0.0
        words = (
            f"as it is: steel axle {said(d, 'mm')}, {said(reach, 'mm', '.1f')} out"
            if d == idler.axle_mm
            else f"steel axle {said(d, 'mm')}"
        )
        variants.append(Variant(words, bend, tilt, f"{at}.axle_mm", d))
    return Bracket(f"{at}.axle_mm", f"axle of the {name.lower()}", load, limit, tuple(variants), "")


def fits(run: Run, end: End) -> list[bores.Fit]:
    """Every toothed pulley on its shaft."""
    ctx, stages = run.ctx, run.stages
    shafts = [s.output_shaft(f"chain.{j}", ctx, None) for j, s in enumerate(stages)]
    seats = [x for j in range(1, len(stages)) for x in stages[j].seats(f"chain.{j}", ctx, shafts[j - 1])]
    seats += end.seats(ctx, shafts[-1])
    margin = run.design.assumptions.margin_grip
    return [_fit(seat, seat.shaft_mm, margin) for seat in seats if seat.shaft_mm is not None]


def _fit(seat: Seat, shaft_mm: float, margin: float) -> bores.Fit:
    pulley, profile = seat.pulley, seat.profile
    outside = float(belt.outside_diameter(pulley.teeth, profile.pitch_mm, profile.pitch_line_mm))
    root = outside - 2 * profile.tooth_height_mm
    verdict, says, field, value = bores.advise(pulley, shaft_mm, root)
    return bores.Fit(
        seat.at,
        seat.name,
        shaft_mm,
        pulley.bore_mm,
        pulley.bore_mm - shaft_mm,
        (pulley.hub_mm - pulley.bore_mm) / 2,
        verdict,
        says,
        f"{seat.at}.{field}" if field else "",
        value,
        bores.mended(seat.at, pulley, field, value),
        seat.torque_nm,
        seat.ripple_mm,
        bores.holds(pulley, shaft_mm, seat.form, seat.torque_nm, margin),
    )
