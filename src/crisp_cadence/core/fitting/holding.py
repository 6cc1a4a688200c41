"""What holds the pulleys: brackets, axles, and each pulley on its shaft."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..checks import holding
from ..checks.wheels import wheels
from ..evaluation.evaluate import Run
from ..fields.belts import Idler, Mount, Pulley
from ..fields.profile import Profile
from ..formulas import belt, running, springs
from ..formulas.brackets import HEAT_ROOM_C, SOFTENS_C
from ..geometry.route import Laid
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.contract import End
from ..parts.ends.loop_build import SOFT_PLASTICS
from ..parts.stages.closed_belt import ClosedBelt
from . import bores
from .rows import Bracket, Variant


def brackets(run: Run, end: End, laid: Sequence[Laid]) -> list[Bracket]:
    """Every plate and axle under the belt's pull, as it is and stronger."""
    limit = run.design.assumptions.tilt_limit
    mounts: list[tuple[str, str, Mount, float | None]] = []
    if isinstance(end, BeltEnd):
        pull = end.strained(run.ctx).shaft_load.value
        mounts += [(f"end.{n}", n.replace("_", " "), m, pull) for n, m in end.mounts().items()]
    for j, stage in enumerate(run.stages):
        if isinstance(stage, ClosedBelt):
            mounts.append(
                (
                    f"chain.{j}.motor_mount",
                    "motor plate of the closed belt",
                    stage.motor_mount,
                    stage.loaded(f"chain.{j}", run.ctx).shaft_load.value,
                )
            )
    out = [_plate(at, name, mount, load, limit) for at, name, mount, load in mounts]
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
                f"as it is: {material}, {thick:g} mm"
                if (material, thick) == own
                else f"{material}, {thick:g} mm"
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
            f"as it is: steel axle {d:g} mm, {reach:.1f} mm out"
            if d == idler.axle_mm
            else f"steel axle {d:g} mm"
        )
        variants.append(Variant(words, bend, tilt, f"{at}.axle_mm", d))
    return Bracket(f"{at}.axle_mm", f"axle of the {name.lower()}", load, limit, tuple(variants), "")


def fits(run: Run, end: End) -> list[bores.Fit]:
    """Every toothed pulley on its shaft."""
    ctx, margin = run.ctx, run.design.assumptions.margin_grip
    out = []

    def add(
        at: str,
        name: str,
        pulley: Pulley,
        shaft: float | None,
        form: str,
        profile: Profile,
        torque: float | None,
        ripple: float | None,
    ) -> None:
        if shaft is None:
            return
        root = (
            float(belt.outside_diameter(pulley.teeth, profile.pitch_mm, profile.pitch_line_mm))
            - 2 * profile.tooth_height_mm
        )
        verdict, says, field, value = bores.advise(pulley, shaft, root)
        out.append(
            bores.Fit(
                at,
                name,
                shaft,
                pulley.bore_mm,
                pulley.bore_mm - shaft,
                (pulley.hub_mm - pulley.bore_mm) / 2,
                verdict,
                says,
                f"{at}.{field}" if field else "",
                value,
                bores.mended(at, pulley, field, value),
                torque,
                ripple,
                bores.holds(pulley, shaft, form, torque, margin),
            )
        )

    def peak(stage: ClosedBelt, at: str) -> float | None:
        pull, radius = stage.loaded(at, ctx).pull.value, stage.fitted(at, ctx).radius["driver"].value
        return None if pull is None or radius is None else pull * radius / 1000

    for j, stage in enumerate(run.stages):
        if isinstance(stage, ClosedBelt):
            profile = ctx.profile(stage.belt.profile, f"chain.{j}.belt.profile")
            before = run.stages[j - 1].output_shaft(f"chain.{j - 1}", ctx, None) if j else None
            torque = peak(stage, f"chain.{j}")
            if before is not None:
                add(
                    f"chain.{j}.driver",
                    "Driver pulley",
                    stage.driver,
                    before.diameter.value,
                    before.form,
                    profile,
                    torque,
                    None,
                )
            ratio = stage.driven.teeth / stage.driver.teeth
            add(
                f"chain.{j}.driven",
                "Driven pulley",
                stage.driven,
                stage.shaft_mm,
                stage.shaft_form,
                profile,
                None if torque is None else torque * ratio,
                None,
            )
    if isinstance(end, BeltEnd):
        last = len(run.stages) - 1
        shaft = run.stages[last].output_shaft(f"chain.{last}", ctx, None)
        strained = end.strained(ctx)
        add(
            "end.pulley",
            "Drive pulley",
            end.pulley,
            shaft.diameter.value,
            shaft.form,
            end.profile(ctx),
            strained.hub_torque.value,
            None if strained.ripple is None else strained.ripple.value,
        )
    return out
