"""A spindle drawn, bought and put together."""

from __future__ import annotations

import math

from ...account.context import Context
from ...account.report import BillLine, Caution, WorkStep
from ...formulas import prices
from ...geometry.scene import Handle, Mark, Scene, SceneWheel, Spot, strand_of
from ...ledger.amounts import said
from ..joining import stands_alone
from ..stages.contract import bought
from ..work_steps import (
    AID,
    EDGE,
    EYES,
    GAUGE,
    SPANNER,
    after_the_run,
    before_the_trial,
    freed,
    lay_out,
    shaft_tight,
)
from .step_cones import StepCones
from .v_belts import AtSpeed, Carried


def scene(end: StepCones, ctx: Context) -> Scene:
    """Both belts at the lowest speed, seen along the shafts."""
    now = end.slowest(ctx)
    motor, middle = now.first.driver_mm, now.first.driven_mm
    driver, driven = now.second.driver_mm, now.second.driven_mm
    m, p, s = (0.0, 0.0), (now.middle_x_mm, now.middle_y_mm), (end.apart_mm, 0.0)
    (_, _, first), (_, _, second) = end.grooved(ctx)
    # As drawn, the centre distances follow from the belts.
    draws = (
        ()
        if end.drawn
        else (
            Handle("end.motor_centre_mm", end.motor_centre_mm, 1.0, 0.0),
            Handle("end.cone_centre_mm", end.cone_centre_mm, -1.0, 0.0),
        )
    )
    apart = (Handle("end.apart_mm", end.apart_mm, 1.0, 0.0),)
    lam = 1 / end.work_mm
    at_middle = lam * driven / driver

    def wheel(
        name: str,
        at: tuple[float, float],
        pitch: float,
        bore: float,
        turn: float,
        part: str,
        handles: tuple[Handle, ...],
    ) -> SceneWheel:
        return SceneWheel(
            name, "groove", Spot(*at), pitch / 2, pitch / 2 + 2, bore, turn, part=part, handles=handles
        )

    wheels = (
        wheel("Motor", m, motor, 14.0, at_middle * middle / motor, "", ()),
        wheel("Middle, motor side", p, middle, 12.0, at_middle, "end.middle", draws),
        wheel("Middle, cone", p, driver, 12.0, at_middle, "end.middle", draws),
        wheel("Spindle", s, driven, 20.0, lam, "end.spindle", apart),
    )
    low = -max(motor, driven) / 2 - 30
    return Scene(
        "Seen along the shafts, lowest speed",
        "",
        2 * math.pi * end.work_mm,
        wheels,
        (strand_of(first, "v", at_middle * middle / 2), strand_of(second, "v", lam * driven / 2)),
        (),
        (
            Mark("motor", Spot(m[0], low)),
            Mark("middle pulley", Spot(p[0], p[1] + middle / 2 + 14)),
            Mark("spindle", Spot(s[0], low)),
        ),
    )


def bill(end: StepCones, speeds: int) -> list[BillLine]:
    """Cones and belts to buy."""
    return [
        bought(
            end.cones,
            "Cones and pulleys",
            f"section {end.section}, {speeds} speeds",
            "end.cones",
            typical=prices.CONES,
        ),
        bought(
            end.belts,
            "V-belts",
            f"{end.section} {end.motor_belt_mm:g} and {end.cone_belt_mm:g} mm",
            "end.belts",
            2 * end.abreast,
            prices.v_belt_price((end.motor_belt_mm + end.cone_belt_mm) / 2),
        ),
    ]


def _set(belt: Carried) -> str:
    by, takes = said(belt.aside.value or 0, "mm", ".2g"), said(belt.push.value or 0, "N", ".2g")
    return f"{said(belt.rest.value or 0, 'N', '.0f')} (one straight span goes {by} aside for {takes})"


def work(ctx: Context, speeds: list[AtSpeed]) -> list[WorkStep]:
    """The order of work, with the tension of both belts at every speed."""
    slow, others = speeds[0], speeds[1:]
    then = "; ".join(
        f"{at.step.name} {said(at.motor.rest.value or 0, 'N', '.0f')} and "
        f"{said(at.cone.rest.value or 0, 'N', '.0f')}"
        for at in others
    )
    return [
        lay_out("shafts, bores, belt lengths"),
        WorkStep(
            "bearings",
            "Grease the bearings, press them in and run the spindle through both: it must turn by its own "
            "weight.",
            "aligned",
            after=("parts",),
            gives=("bearings",),
            tools=("press or vice", "sleeve on the outer ring", "grease"),
        ),
        WorkStep(
            "middle_on",
            "Fit the middle pulley on its post or arm, its screw open.",
            "loose",
            after=("parts",),
            gives=("middle",),
            fastens=("middle pulley",),
            needs=("end.cones",),
            check="Turns freely, and moves both ways along its slot.",
            tools=(SPANNER,),
        ),
        WorkStep(
            "pulley_on",
            "Fit the motor's pulley and the spindle's cone, keys in.",
            "loose",
            after=("bearings",),
            gives=("motor ready", "shaft.end"),
            fastens=("hub",),
            needs=("end.cones",),
            check="A dial gauge on each rim: it runs out no more than was counted on.",
            tools=(GAUGE, "hex keys"),
        ),
        # Behind a belt or a coupler the motor's pulley sits on a shaft of its own.
        *([shaft_tight(ctx)] if stands_alone(ctx) else []),
        WorkStep(
            "line_up",
            "Line each pair of grooves up with a straight edge, then tighten pulleys and cones on their "
            "shafts." + before_the_trial(ctx),
            "aligned",
            after=("shaft.end", "middle", "motor"),
            gives=("in line",),
            fastens=("hub",),
            check="Touches both rims in two places each.",
            tools=(EDGE, "hex keys"),
        ),
        WorkStep(
            "belts_on",
            f"Lay both belts on for {slow.step.name}, the slowest, with the middle pulley slack.",
            after=("in line", "motor tight"),
            gives=("belts",),
            needs=("end.belts",),
            caution="Plug pulled and locked away.",
        ),
        WorkStep(
            "tension",
            f"At {slow.step.name}, the slowest: draw the middle pulley out until the motor's belt has "
            f"{_set(slow.motor)} and the cone's belt {_set(slow.cone)}, then lock its screw.",
            "tightened",
            after=("belts",),
            gives=("joined",),
            fastens=("middle pulley",),
            check="Neither belt may be slack while the other is tight: the middle pulley moves both ways.",
            caution=EYES,
            tools=(SPANNER, "spring scale", "rule"),
        ),
        WorkStep(
            "hand_run",
            "Turn the spindle round by hand, plug pulled." + freed(ctx),
            after=("joined",),
            gives=("hand",),
            check="Even all the way round; no belt climbs out of its groove.",
        ),
        WorkStep(
            "guards",
            "Fit the guards over both belts and the cones, so that they open for a change of step only.",
            "tightened",
            after=("hand",),
            gives=("stops",),
            fastens=("guards",),
            caution="Never run it without: belts and spindle catch sleeves and hair.",
            tools=("hex keys",),
        ),
        WorkStep(
            "slow_run",
            "Run the slowest speed for ten minutes, then each speed in turn."
            + (f" Tension anew at each change, motor's and cone's belt: {then}." if then else ""),
            after=("hand", "stops", "wired"),
            gives=("ran",),
            check="No squeal, no smell, bearings hand-warm.",
            caution="At every change of step: switch off, pull the plug, lock it away, wait until it stands.",
        ),
        *after_the_run(
            ctx,
            "pulleys, cones and motor",
            "Pull the plug, open the guards; tension the belts again, check keys and screws.",
            "Read each speed with a tachometer, unloaded, and keep the table (see Tune). Close the guards.",
            ("hub", "motor", "middle pulley"),
        ),
    ]


def cautions() -> list[Caution]:
    """What a spindle can do to hands."""
    return [
        Caution(
            "drive",
            "A turning spindle catches sleeves, hair and gloves: roll sleeves up, tie hair back, "
            "no gloves, guard both belts.",
        ),
        Caution("belt", "Disconnect and lock the supply before you change a belt's step."),
        AID,
    ]
