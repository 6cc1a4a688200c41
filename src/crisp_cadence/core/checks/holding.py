"""Axles, brackets, clamps, slots and hubs: does what holds the belt hold?"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Any

from ..account.context import Context
from ..fields.belts import Clamp, Idler, Mount, Pulley
from ..fields.profile import Profile
from ..fields.screws import of_size, screw_name
from ..formulas import belt, fixings, springs
from ..formulas.brackets import (
    BEARS_MPA,
    CLAMP_FACTOR,
    HEAT_ROOM_C,
    INSERT_N,
    SLOT_BOLT_N,
    SLOT_FRICTION,
    SOFTENS_C,
    clamp_pull,
    plate_bears,
    slot_bolt_grip,
    tipping_bears,
)
from ..formulas.running import axle_tilt
from ..ledger.formula import Real
from ..ledger.many import most, pick
from ..ledger.quantity import Given, Quantity, Term, bare
from . import belt_data
from .belt_line import stack_height
from .tautness import Bears, alike, at_load, at_pull, over
from .wheels import Wheel

# What set screws hold of their rating: on a flat the shaft cannot turn under them (common practice); on a
# round shaft, hard, screwed by hand and turned both ways, a quarter to a third is left (estimate).
ON_FLAT, ON_ROUND = 2.0, 0.3
WARM_HUB_K = 40.0  # a hub on a motor's shaft that has run for long (estimate)
SLOT_AIR_MM = 0.5  # beside and above a belt that lies in a slot (estimate)


def axle_reach(idler: Idler) -> Real:
    """How far the belt's middle stands out from an idler's seat, mm."""
    return stack_height(idler) + idler.width_mm / 2


def axles_square(
    ctx: Context, listed: list[Wheel], key: str, label: str, tight: Quantity, more: Term
) -> list[Bears]:
    """Tilt of every axle held at one end, under both runs at `tight`, which has `more` than the tension set;
    a rung for the worst, and what each of them bears.
    """
    found: list[tuple[Term, str]] = []
    bears: list[Bears] = []
    for wheel in listed:
        at, part, name = wheel.at, wheel.part, wheel.name.lower()
        if isinstance(part, Idler) and part.held == "one end":
            load = ctx.calc(
                f"{at}.axle_load",
                f"Load on the axle of the {name}",
                belt.shaft_load,
                tension_a_n=tight,
                tension_b_n=tight,
                wrap_rad=wheel.wrap_rad,
            )
            steel = Given(f"{at}.axle", springs.MATERIALS["steel"][0], "GPa", "estimate", "steel axle")
            tilt = ctx.calc(
                f"{at}.axle_tilt",
                f"Tilt of the axle of the {name}",
                axle_tilt,
                force_n=load,
                youngs_gpa=steel,
                diameter_mm=ctx.given(f"{at}.axle_mm"),
                reach_mm=axle_reach(part),
            )
            found.append((tilt, at))
            allowed = _load_at_tilt(ctx, f"{at}.axle", f"axle of the {name}", load, tilt)
            says = f"the axle of the {name} tilts"
            less = alike(ctx, f"{at}.axle.less", more)
            bears.append(
                at_load(ctx, f"{at}.axle", says, f"{at}.axle_mm", allowed, more, less, wheel.wrap_rad)
            )
    if found:
        worst, at = ctx.extreme("most", found, f"{key}axle_tilt", "°")
        ctx.rung(
            f"{key}axle",
            f"Axles of the idlers stay square{label}",
            worst,
            ctx.given("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="running",
            path=f"{at}.axle_mm",
            lower_is_better=True,
            says="A thicker axle, a lower stack, or hold it at both ends.",
        )
    return bears


def _load_at_tilt(ctx: Context, key: str, label: str, load: Term, tilt: Quantity) -> Quantity:
    """Load at which something that bends in proportion has the tilt that is allowed."""
    limit = ctx.given("assumptions.tilt_limit")
    return ctx.book.put(
        f"{key}.bears",
        f"Load at which the {label} has the tilt allowed",
        lambda: pick(tilt.n > 0, bare(load) * limit.n / most(tilt.n, 1e-12), math.inf),
        "N",
        equation="F·φ_allowed/φ",
        source="it bends in proportion to its load",
        load=load,
        tilt=tilt,
        allowed=limit,
    )


def mount_stiffness(ctx: Context, mount: Mount, at: str, label: str) -> Quantity | Given | None:
    """Stiffness of a mount in N/mm; None for a rigid one."""
    g = ctx.given
    if mount.kind == "rigid":
        return None
    if mount.kind == "measured":
        return g(f"{at}.stiffness_n_mm")
    modulus = springs.MATERIALS[mount.material][0]
    return ctx.calc(
        f"{at}.stiffness",
        f"Stiffness of the {label}",
        springs.plate_stiffness,
        youngs_gpa=Given(f"{at}.material", modulus, "GPa", "estimate", mount.material),
        width_mm=g(f"{at}.width_mm"),
        thickness_mm=g(f"{at}.thickness_mm"),
        overhang_mm=g(f"{at}.overhang_mm"),
    )


# Key, words, field and load of what gives up under that load.
Bearing = Callable[[str, str, str, Term], Bears]


def under_two_runs(ctx: Context, tight: Term, slack: Term, wrap: Term) -> Bearing:
    """What gives up under a pulley's load: the tight run has `tight` more than the tension set, the slack one
    `slack` less.
    """
    return lambda key, says, path, load: at_load(ctx, key, says, path, load, tight, slack, wrap)


def under_one_run(ctx: Context, force: Term, share: Term) -> Bearing:
    """What gives up under the pull of the tight run alone, which has this share of the force more than the
    tension set.
    """
    return lambda key, says, path, load: at_pull(ctx, key, says, path, load, 1.0, force, share)


def on_both_sides(
    ctx: Context, name: str, load: Quantity, bearing: Bearing, before: Quantity
) -> tuple[Quantity, Bearing]:
    """What holds a shaft that a belt before it pulls on too: it bears both, at worst the same way."""
    return with_another(ctx, name, load, before), _beside(ctx, bearing, before)


def with_another(ctx: Context, name: str, load: Quantity, other: Quantity) -> Quantity:
    """The load of a second belt on the same shaft added."""
    return ctx.book.put(
        f"{name}.load",
        "Load on what holds the shaft between two belts",
        lambda: load.n + other.n,
        "N",
        equation="F_1 + F_2",
        source="both pull the same way at worst",
        load=load,
        other=other,
    )


def left_of(ctx: Context, key: str, label: str, allowed: Term, other: Quantity) -> Quantity:
    """What a second belt on the same shaft leaves of what is allowed."""
    return ctx.book.put(
        key,
        label,
        lambda: most(bare(allowed) - other.n, 0.0),
        "N",
        equation="F − F_2",
        source="both pull the same way at worst",
        allowed=allowed,
        other=other,
    )


def _beside(ctx: Context, bearing: Bearing, other: Quantity) -> Bearing:
    def found(key: str, says: str, path: str, load: Term) -> Bears:
        left = left_of(ctx, f"{key}.left", "What the other belt leaves of it", load, other)
        return bearing(key, says, path, left)

    return found


def mount_checks(ctx: Context, name: str, at: str, mount: Mount, load: Term, bearing: Bearing) -> list[Bears]:
    """Tilt of a plate, grip of its slot bolts, and heat, and what they bear. `load` pulls on it, and
    `bearing` says at which tension that load is reached.
    """
    title, g = name.rpartition(".")[2].replace("_", " "), ctx.given
    bears: list[Bears] = []
    if mount.kind == "plate":
        modulus, creep = springs.MATERIALS[mount.material]
        tilt = ctx.calc(
            f"{name}.tilt",
            f"Tilt of the {title}",
            springs.plate_tilt,
            force_n=load,
            youngs_gpa=Given(
                f"{at}.material",
                modulus / (1 + creep),
                "GPa",
                "estimate",
                f"{mount.material}, after creep E/(1+{creep:g})",
            ),
            width_mm=g(f"{at}.width_mm"),
            thickness_mm=g(f"{at}.thickness_mm"),
            overhang_mm=g(f"{at}.overhang_mm"),
        )
        ctx.rung(
            f"{name}_tilt",
            f"Tilt of the {title}",
            tilt,
            g("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="running",
            path=f"{at}.thickness_mm",
            lower_is_better=True,
            says="A thicker plate (stiffness grows with its cube), a shorter one, or aluminium.",
        )
        allowed = _load_at_tilt(ctx, name, title, load, tilt)
        bears.append(bearing(f"{name}.tilt", f"the {title} tilts", f"{at}.thickness_mm", allowed))
        bears.append(_strength(ctx, name, at, mount, title, load, bearing))
        softens = SOFTENS_C.get(mount.material)
        if softens is not None and mount.warm_c is not None:
            limit = ctx.book.put(
                f"{name}.bears",
                f"Warmth that the {title} bears",
                softens - HEAT_ROOM_C,
                "°C",
                equation="T_soft − 10",
                source_kind="from memory",
                source=f"{mount.material} begins to give near {softens:g} °C",
                soft=softens,
            )
            ctx.rung(
                f"{name}_heat",
                f"Heat at the {title}",
                g(f"{at}.warm_c"),
                limit,
                1.0,
                unit="°C",
                section="running",
                path=f"{at}.material",
                says="Aluminium or steel, a spacer between it and the motor, or less current when standing.",
            )
    if mount.slotted:
        hold = Given(
            f"{at}.bolt_mm",
            of_size(SLOT_BOLT_N, mount.bolt_mm),
            "N",
            "common practice",
            f"preload of {screw_name(mount.bolt_mm)} in a slot nut; known sizes are M3 to M8, #6 to 5/16 in",
        )
        grip = ctx.calc(
            f"{name}.grip",
            f"Pull that the bolts of the {title} hold",
            slot_bolt_grip,
            bolts=g(f"{at}.bolts"),
            preload_n=hold,
            friction=Given(
                "catalogue.slot_friction", SLOT_FRICTION, "", "common practice", "aluminium on aluminium, dry"
            ),
        )
        ctx.rung(
            f"{name}_grip",
            f"Slot bolts hold the {title}",
            load,
            grip,
            g("assumptions.margin_grip"),
            unit="N",
            section="running",
            path=f"{at}.bolts",
            says="More or larger bolts, a stop screw behind the bracket, or a pin once all is aligned.",
        )
        held = over(ctx, f"{name}.holds", f"Pull allowed on the {title}", grip, g("assumptions.margin_grip"))
        says = f"the bolts of the {title} slip in their slot"
        bears.append(bearing(f"{name}.slip", says, f"{at}.bolts", held))
    return bears


def _strength(
    ctx: Context, name: str, at: str, mount: Mount, title: str, load: Term, bearing: Bearing
) -> Bears:
    """Whether a plate breaks at its root, and whether its bolts let it tip."""
    g, margin = ctx.given, ctx.given("assumptions.margin_other")
    in_plastic = mount.bolts_into == "inserts in plastic"
    bolt = Given(
        f"{at}.bolt_mm",
        of_size(INSERT_N if in_plastic else SLOT_BOLT_N, mount.bolt_mm),
        "N",
        "from memory" if in_plastic else "common practice",
        f"pull of an insert for {screw_name(mount.bolt_mm)} in plastic, for good; known from M2 to M8"
        if in_plastic
        else f"preload of {screw_name(mount.bolt_mm)}; known sizes are M3 to M8, #6 to 5/16 in",
    )
    plate = ctx.calc(
        f"{name}.strength",
        f"Pull that the {title} bears at its root",
        plate_bears,
        stress_mpa=Given(
            f"{at}.material", BEARS_MPA[mount.material], "MPa", "estimate", f"{mount.material}, for good"
        ),
        width_mm=g(f"{at}.width_mm"),
        thickness_mm=g(f"{at}.thickness_mm"),
        overhang_mm=g(f"{at}.overhang_mm"),
    )
    bolts = ctx.calc(
        f"{name}.tips",
        f"Pull at which the {title} tips off its bolts",
        tipping_bears,
        bolts=g(f"{at}.bolts"),
        bolt_n=bolt,
        lever_mm=g(f"{at}.lever_mm"),
        overhang_mm=g(f"{at}.overhang_mm"),
    )
    if ctx.plain and mount.bolts == 1:
        ctx.note(
            "build",
            f"{at}.bolts",
            f"One bolt holds the {title} by friction alone when the belt wants to turn it: add a pin, a step "
            "or a second bolt.",
        )
    for key, label, allowed, path, says in (
        (
            "strength",
            f"The {title} bears its load for good",
            plate,
            "thickness_mm",
            "A thicker plate, a shorter one, or metal.",
        ),
        (
            "tips",
            f"Bolts keep the {title} from tipping",
            bolts,
            "lever_mm",
            "A longer foot, a shorter bracket, more or larger bolts; nuts instead of inserts.",
        ),
    ):
        ctx.rung(
            f"{name}_{key}",
            label,
            load,
            allowed,
            margin,
            unit="N",
            section="running",
            path=f"{at}.{path}",
            says=says,
        )
    ends = [(plate, f"{at}.thickness_mm"), (bolts, f"{at}.lever_mm")]
    weaker, field = ctx.extreme("least", ends, f"{name}.weaker", "N")
    held = over(ctx, f"{name}.bears_for_good", f"Pull allowed on the {title}", weaker, margin)
    says = "tips off its bolts" if weaker is bolts else "breaks"
    return bearing(f"{name}.for_good", f"the {title} {says}", field, held)


def clamp_check(
    ctx: Context, clamp: Clamp, profile: Profile, tight: Quantity, force: Term, share: Term
) -> Bears:
    """Whether the belt's ends hold the largest tension, and what they bear."""
    g = ctx.given
    if clamp.pull_n is not None:
        held: Term = g("end.clamp.pull_n")
    else:
        rated = belt_data.rated_pull(
            ctx,
            profile,
            "end.belt",
            "clamp.rated",
            "Running rating of the teeth held",
            g("end.clamp.engaged_teeth"),
        )
        held = ctx.calc(
            "clamp.pull",
            "Pull that a belt end holds",
            clamp_pull,
            rated_n=rated,
            factor=Given(
                "end.clamp.kind",
                CLAMP_FACTOR[clamp.kind],
                "",
                "common practice",
                f"{clamp.kind}: no source, try it with weights",
            ),
        )
    ctx.rung(
        "clamp",
        "Belt ends hold",
        tight,
        held,
        g("assumptions.margin_grip"),
        unit="N",
        section="running",
        path="end.clamp.engaged_teeth",
        says="Hold more teeth, a toothed plate, or a trial with weights whose result you enter.",
    )
    if clamp.kind == "doubled back" and clamp.rod_mm is not None:
        _round_a_rod(ctx, profile)
    says, path = "the belt's ends slip", "end.clamp.engaged_teeth"
    return at_pull(ctx, "clamp", says, path, held, g("assumptions.margin_grip"), force, share)


def _round_a_rod(ctx: Context, profile: Profile) -> None:
    """A belt doubled round a rod bends round it, teeth inwards; it does not run there, so that this is
    advice.
    """
    bent = ctx.calc(
        "clamp.bend",
        "Radius that the cords bend to round the rod",
        belt.smooth_idler_radius_tooth_side,
        diameter_mm=ctx.given("end.clamp.rod_mm"),
        tooth_height_mm=ctx.datum(profile, "tooth_height_mm", profile.tooth_height_mm, "mm"),
        pitch_line_mm=ctx.datum(profile, "pitch_line_mm", profile.pitch_line_mm, "mm"),
    )
    least = ctx.book.put(
        "clamp.least_bend",
        "Radius of the smallest pulley for this belt",
        belt.pitch_diameter(profile.min_teeth, profile.pitch_mm) / 2,
        "mm",
        equation="z_min·p/2π",
        source_kind="common practice",
        source="what its cords bear where they run; a bend that stands still may be somewhat sharper",
        teeth=ctx.datum(profile, "min_teeth", profile.min_teeth, "teeth"),
    )
    ctx.rung(
        "rod",
        "Bend of the belt round its rod",
        least,
        bent,
        1.0,
        unit="mm",
        section="running",
        path="end.clamp.rod_mm",
        says="A thicker rod, or a toothed plate: cords that are bent too sharply break there.",
        advisory=True,
    )


def _with_air(size: Term) -> Real:
    return (bare(size) + SLOT_AIR_MM) / bare(size)


def slot_check(ctx: Context, at: str, thickness: Term) -> None:
    """Whether a belt runs free in the rail's slot: half a millimetre is enough, touching is short."""
    for key, label, field, size, says in (
        ("slot", "beside it", "slot_mm", ctx.given(f"{at}.belt.width_mm"), "A narrower belt"),
        ("slot_deep", "above it", "slot_deep_mm", thickness, "A deeper slot"),
    ):
        slot = ctx.given(f"{at}.{field}")
        if slot.value is None:
            continue
        enough = ctx.book.put(
            f"{key}.enough",
            f"Slot over belt that is enough, {label}",
            partial(_with_air, size),
            "×",
            equation="(b + 0.5)/b",
            source_kind="estimate",
            source="half a millimetre of air in all",
            b=size,
        )
        ctx.rung(
            key,
            f"Belt runs free in the rail's slot, {label}",
            size,
            slot,
            enough,
            unit="mm",
            section="running",
            path=f"{at}.{field}",
            says=f"{says}, or lead the run beside the rail.",
        )


def fixing(
    kind: str,
    *,
    screw_mm: Any,
    hold_n: Any,
    screws: Any,
    shaft_mm: Any,
    pressure_mpa: Any,
    length_mm: Any,
    form: Any,
    stuff: fixings.HubStuff,
) -> tuple[Callable[..., Real], dict[str, Any]]:
    """The formula of what one kind of fixing holds on a shaft, with those of its terms that it asks for.

    They may be numbers, arrays or terms of the ledger; `hold_n` is the rating of a set screw, `pressure_mpa`
    that of a press fit. A set screw meant for a flat sits on the round where the shaft has none.
    """
    if kind == "clamp":
        terms = {"screw_mm": screw_mm, "shaft_mm": shaft_mm, "screws": screws, "friction": 0.15}
        return fixings.clamp_grip, terms
    if kind == "key":
        return fixings.key_grip, {"shaft_mm": shaft_mm, "pressure_mpa": stuff.key_mpa}
    if kind == "press fit":
        terms = {"pressure_mpa": pressure_mpa, "shaft_mm": shaft_mm, "length_mm": length_mm, "friction": 0.12}
        return fixings.press_grip, terms
    on_flat = pick(form == "round", ON_ROUND, ON_FLAT) if kind == "set screw on flat" else ON_ROUND
    terms = {"hold_n": hold_n, "shaft_mm": shaft_mm, "screws": screws, "flat_factor": on_flat * stuff.thread}
    return fixings.set_screw_grip, terms


def fixing_grip(pulley: Pulley, shaft_mm: Real, form: Any = "flat", kind: str | None = None) -> Real:
    """Torque that a pulley's own kind of fixing, or another, holds on a shaft, N·m, one shaft or an array;
    NaN where its screw has no rating.
    """
    how, stuff = pulley.fixing, fixings.HUBS[pulley.made_of]
    kind, pressure = kind or how.kind, None
    if kind == "press fit":
        grown = (stuff.growth_k, fixings.STEEL_GROWTH_K, WARM_HUB_K)
        left = fixings.interference_left(how.interference_mm, shaft_mm, *grown)
        pressure = fixings.press_pressure(shaft_mm, pulley.hub_mm, left, stuff.youngs_gpa, stuff.poisson)
    formula, terms = fixing(
        kind,
        screw_mm=how.screw_mm,
        hold_n=of_size(fixings.SET_SCREW_HOLD_N, how.screw_mm) or math.nan,
        screws=how.screws,
        shaft_mm=shaft_mm,
        pressure_mpa=pressure,
        length_mm=pulley.face_mm,
        form=form,
        stuff=stuff,
    )
    return formula(**terms)
