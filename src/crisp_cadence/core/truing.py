"""Running true: flanges, faces, bends, the belt line, brackets, axles, clamps and what the belt must stay
clear of.

One set of checks for every toothed belt of an axis, open or closed. Each writes its results into the ledger
and a rung.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from . import belt, fixings, springs
from .context import Context
from .formula import Given, Quantity, Real, Term, formula
from .model import Clamp, Idler, Mount, Near, Pulley
from .path import Path
from .route import Laid, part_at

LEAST_BEND = (
    1.3  # least diameter of a smooth idler, times the least pulley's (handbook 1.3 to 1.5, from memory)
)
# centre distance in small pulley diameters above which both pulleys want flanges (handbook, from memory)
LONG_CENTRE = 8.0
CLEAR_MM = (
    1.0  # least air between belt and what stands near it: a slack run swings about as much (common practice)
)

# Axial preload of a bolt in the slot nut of an aluminium rail at its usual tightening, N: F = M/(0.2·d) with
# 1, 2, 4, 7 and 14 N·m
# for M3 to M8 (common practice, from memory).
SLOT_BOLT_N: dict[float, float] = {3.0: 1700.0, 4.0: 2500.0, 5.0: 4000.0, 6.0: 5800.0, 8.0: 8750.0}
SLOT_FRICTION = 0.15  # aluminium on aluminium, dry, as bolts count on it (common practice)

# Static hold of a belt end against the running rating of its teeth (common practice, no source; a trial clamp
# says more).
CLAMP_FACTOR: dict[str, float] = {
    "toothed plate": 4.0,
    "doubled back": 3.0,
    "nut in slot": 2.0,
    "zip tie": 1.5,
}

# Where plastics begin to give under load, °C (glass transition or deflection temperature; from memory).
SOFTENS_C: dict[str, float] = {"PLA": 55.0, "PETG": 70.0, "acrylic": 90.0, "plywood": 120.0}
HEAT_ROOM_C = 10.0


@formula
def line_angle(offset_mm: Real, span_mm: Real) -> Real:
    """Angle at which a belt runs from one part's line to the next one's.

    Equation: γ = atan(Δh/l)
    Units: mm, mm → °
    Range: l > 0; parallel offset alone, tilt of the parts comes on top
    Source: handbook — timing belt alignment, offset over span

    >>> round(line_angle(1.0, 200.0), 3)
    0.286
    """
    return math.degrees(math.atan(offset_mm / span_mm))


@formula
def slot_bolt_grip(bolts: Real, preload_n: Real, friction: Real) -> Real:
    """Pull along the slot that bolts hold by friction.

    Equation: F = n·µ·F_p
    Units: –, N, – → N
    Range: clean dry faces, one friction face, bolts tightened as usual
    Source: handbook — bolted friction joint, one face

    >>> slot_bolt_grip(2, 4000.0, 0.15)
    1200.0
    """
    return bolts * friction * preload_n


@formula
def clamp_pull(rated_n: Real, factor: Real) -> Real:
    """Pull that a belt end holds.

    Equation: F = c·F_teeth, F_teeth the running rating of as many teeth
    Units: N, – → N
    Range: c 4 toothed plate, 3 doubled back, 2 nut in slot, 1.5 zip tie
    Source: common practice — no source; teeth held still bear several times their running rating

    >>> clamp_pull(21.0, 4.0)
    84.0
    """
    return rated_n * factor


@formula
def axle_tilt(force_n: Real, youngs_gpa: Real, diameter_mm: Real, reach_mm: Real) -> Real:
    """Tilt of an axle held at one end, at the place of the belt.

    Equation: φ = F·l²/(2·E·I), I = π·d⁴/64
    Units: N, GPa, mm, mm → °
    Range: small angles, an axle that is fixed where it leaves its seat
    Source: handbook — cantilever with a force at its end, any strength-of-materials text

    >>> round(axle_tilt(100.0, 205.0, 5.0, 15.0), 4)
    0.1025
    """
    moment = math.pi * diameter_mm**4 / 64
    return force_n * reach_mm**2 / (2 * youngs_gpa * 1000 * moment) * 180 / math.pi


@formula
def runout_ripple(runout_mm: Real, run_1_mm: Real, run_2_mm: Real) -> Real:
    """Ripple at the carriage from a drive pulley that is bored off centre.

    Equation: δ = e·|L2 − L1|/(L1 + L2), once for every turn of the pulley
    Units: mm, mm, mm → mm
    Range: clamped loop, rigid mounts
    Source: handbook — statics of two springs pulled alike at one end

    >>> runout_ripple(0.05, 100.0, 900.0)
    0.04
    """
    return runout_mm * abs(run_2_mm - run_1_mm) / (run_1_mm + run_2_mm)


def height_of(part: object) -> float | None:
    """Height of a part's belt centre above the datum, mm; None while its seat was not measured."""
    if isinstance(part, Pulley):
        return None if part.seat_mm is None else part.seat_mm + part.overhang_mm
    if isinstance(part, Idler):
        return None if part.seat_mm is None else part.seat_mm + stack_height(part) + part.width_mm / 2
    return part.line_mm if isinstance(part, Clamp) else None


def stack_height(idler: Idler) -> float:
    """Thickness of everything under an idler, mm."""
    return math.fsum(p.thickness_mm * p.quantity for p in idler.stack)


def wheels(ctx: Context, laid: Laid) -> list[tuple[str, str, Pulley | Idler, float, float]]:
    """Every pulley of a belt once for each part: name, path, part, radius and its largest wrap."""
    found: dict[str, tuple[str, str, Pulley | Idler, float, float]] = {}
    for round_, wrap in zip(laid.near.rounds, laid.near.wraps, strict=True):
        if round_.radius_mm > 0:
            known = found.get(round_.part)
            if known is None or wrap > known[4]:
                found[round_.part] = (
                    round_.name,
                    round_.part,
                    part_at(ctx.design, round_.part),
                    round_.radius_mm,
                    wrap,
                )
    return list(found.values())


def run_true(ctx: Context, laid: Laid, key: str, tight: Quantity, label: str = "") -> None:
    """Flanges, faces, bends, line and axles of one belt; `key` goes before the names of its results, `label`
    behind its rungs'.
    """
    listed = wheels(ctx, laid)
    _flanges(ctx, laid, listed, key, label)
    _faces(ctx, laid, listed, key, label)
    _bends(ctx, laid, listed, key, label)
    _line(ctx, laid, key, label)
    _axles(ctx, listed, key, label, tight)


Listed = list[tuple[str, str, "Pulley | Idler", float, float]]


def guided(part: Pulley | Idler, laid: Laid) -> bool:
    """Whether a pulley keeps the belt from both sides."""
    if part.flanges == "both":
        return True
    washer = part.washer_mm if isinstance(part, Idler) else None
    return (
        washer is not None
        and isinstance(part, Idler)
        and washer >= part.diameter_mm + 2 * laid.profile.thickness_mm
    )


def _flanges(ctx: Context, laid: Laid, listed: Listed, key: str, label: str) -> None:
    have = sum(guided(part, laid) for _, _, part, _, _ in listed)
    small = 2 * min(r for _, _, _, r, _ in listed)
    longest = max(s.length_mm for path in (laid.near, laid.far) for s in path.spans)
    need = min(2 if longest > LONG_CENTRE * small else 1, len(listed))
    one = next((p for _, p, part, _, _ in listed if not guided(part, laid)), listed[0][1])
    flanged = ctx.book.put(
        f"{key}flanges",
        f"Pulleys with flanges on both sides{label}",
        float(have),
        "pulleys",
        equation="count",
        source_kind="your entry",
        source="flanges as entered",
        of=float(len(listed)),
    )
    wanted = ctx.book.put(
        f"{key}flanges_needed",
        f"Pulleys that want flanges{label}",
        float(need),
        "pulleys",
        equation="2 where a span is longer than 8 small diameters, else 1",
        source_kind="from memory",
        source="timing belt handbooks",
        span=longest,
        small=small,
    )
    if have >= need:
        return  # a count that is met says nothing of headroom: it would stand on top of every ladder
    ctx.rung(
        f"{key}flanges",
        f"Flanges keep the belt on{label}",
        wanted,
        flanged,
        1.0,
        unit="pulleys",
        section="running",
        path=f"{one}.flanges",
        says="Flanges on both sides of one more pulley, or washers that stand over the belt's edges.",
    )


def _faces(ctx: Context, laid: Laid, listed: Listed, key: str, label: str) -> None:
    faces = {
        p + (".face_mm" if isinstance(part, Pulley) else ".width_mm"): part.face_mm
        if isinstance(part, Pulley)
        else part.width_mm
        for _, p, part, _, _ in listed
    }
    at = min(faces, key=lambda p: faces[p])
    narrow = ctx.book.put(
        f"{key}face",
        f"Narrowest face that the belt runs on{label}",
        faces[at],
        "mm",
        equation="min",
        source="geometry",
        also={p.replace(".", "_"): ctx.given(p) for p in faces},
    )
    ctx.rung(
        f"{key}face",
        f"Belt fits on every face{label}",
        ctx.given(f"{laid.at}.belt.width_mm"),
        narrow,
        1.0,
        unit="mm",
        section="running",
        path=at,
        says="A wider pulley, or two bearings side by side that are together wider than the belt.",
    )


def _bends(ctx: Context, laid: Laid, listed: Listed, key: str, label: str) -> None:
    smooth = {
        p: part.diameter_mm
        for _, p, part, _, _ in listed
        if isinstance(part, Idler) and part.kind == "smooth"
    }
    if not smooth:
        return
    at = min(smooth, key=lambda p: smooth[p])
    least = float(belt.pitch_diameter(laid.profile.min_teeth, laid.profile.pitch_mm)) * LEAST_BEND
    ctx.rung(
        f"{key}bend",
        f"Bend round the smooth idler{label}",
        Given("catalogue.least_bend", least, "mm", "from memory", "1.3 times the least pulley"),
        ctx.given(f"{at}.diameter_mm"),
        1.0,
        unit="mm",
        section="running",
        path=f"{at}.diameter_mm",
        says="A larger idler; a belt bent too sharply breaks its cords.",
    )


def line_pairs(ctx: Context, laid: Laid) -> list[tuple[str, str, float, float]]:
    """Neighbours in belt order whose heights are both known: their parts, the offset between them and the
    shortest span, mm.
    """
    out = []
    count = len(laid.near.rounds)
    for i, span in enumerate(laid.near.spans):
        a, b = laid.near.rounds[i], laid.near.rounds[(i + 1) % count]
        first, second = (height_of(part_at(ctx.design, x.part)) for x in (a, b))
        if a.part != b.part and first is not None and second is not None:
            out.append((a.part, b.part, second - first, min(span.length_mm, laid.far.spans[i].length_mm)))
    return out


def _line(ctx: Context, laid: Laid, key: str, label: str) -> None:
    pairs = line_pairs(ctx, laid)
    if not pairs:
        return
    a, b, offset, span = max(pairs, key=lambda p: abs(p[2]) / max(p[3], 1e-6))
    apart = ctx.book.put(
        f"{key}line.offset",
        f"Largest step in the belt line{label}",
        abs(offset),
        "mm",
        equation="|h_b − h_a|",
        source_kind="measured by you",
        source="heights above the datum",
        also={
            x.replace(".", "_"): Given(
                f"{x}.height",
                height_of(part_at(ctx.design, x)),
                "mm",
                "measured by you",
                "seat, stack and half the width",
            )
            for x in (a, b)
        },
    )
    angle = ctx.calc(
        f"{key}line.angle",
        f"Angle of the belt at that step{label}",
        line_angle,
        offset_mm=apart,
        span_mm=max(span, 1e-3),
    )
    at = b if isinstance(part_at(ctx.design, b), Idler) else a
    part = part_at(ctx.design, at)
    field = "seat_mm" if isinstance(part, (Pulley, Idler)) else "line_mm"
    ctx.rung(
        f"{key}line",
        f"Belt runs in line{label}",
        angle,
        ctx.given("assumptions.tilt_limit"),
        1.0,
        unit="°",
        section="running",
        path=f"{at}.{field}",
        lower_is_better=True,
        says="Lift the low part with washers from the drawer; see the belt line in Belt.",
    )


def axle_reach(idler: Idler) -> float:
    """How far the belt's middle stands out from an idler's seat, mm."""
    return stack_height(idler) + idler.width_mm / 2


def _axles(ctx: Context, listed: Listed, key: str, label: str, tight: Quantity) -> None:
    found: list[tuple[float, str, Quantity]] = []
    for name, at, part, _, wrap in listed:
        if isinstance(part, Idler) and part.held == "one end":
            load = ctx.calc(
                f"{at}.axle_load",
                f"Load on the axle of the {name.lower()}",
                belt.shaft_load,
                tension_a_n=tight,
                tension_b_n=tight,
                wrap_rad=wrap,
            )
            steel = Given(f"{at}.axle", springs.MATERIALS["steel"][0], "GPa", "estimate", "steel axle")
            tilt = ctx.calc(
                f"{at}.axle_tilt",
                f"Tilt of the axle of the {name.lower()}",
                axle_tilt,
                force_n=load,
                youngs_gpa=steel,
                diameter_mm=ctx.given(f"{at}.axle_mm"),
                reach_mm=axle_reach(part),
            )
            if tilt.value is not None:
                found.append((tilt.value, at, tilt))
    if found:
        _, at, tilt = max(found, key=lambda f: f[0])
        ctx.rung(
            f"{key}axle",
            f"Axles of the idlers stay square{label}",
            tilt,
            ctx.given("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="running",
            path=f"{at}.axle_mm",
            lower_is_better=True,
            says="A thicker axle, a lower stack, or hold it at both ends.",
        )


def mount_checks(ctx: Context, name: str, at: str, mount: Mount, load: Term) -> None:
    """Tilt of a plate, grip of its slot bolts, and heat; `load` pulls on it."""
    title, g = name.rpartition(".")[2].replace("_", " "), ctx.given
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
            SLOT_BOLT_N.get(mount.bolt_mm),
            "N",
            "common practice",
            f"preload of M{mount.bolt_mm:g} in a slot nut; known sizes are M3, M4, M5, M6, M8",
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


def clamp_check(ctx: Context, clamp: Clamp, tight: Quantity, working: Term, width: Given) -> None:
    """Whether the belt's ends hold the largest tension."""
    g = ctx.given
    if clamp.pull_n is not None:
        held: Term = g("end.clamp.pull_n")
    else:
        rated = ctx.calc(
            "clamp.rated",
            "Running rating of the teeth held",
            belt.effective_pull_capacity,
            working_tension_n=working,
            width_mm=width,
            teeth_meshed=g("end.clamp.engaged_teeth"),
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


def clearances(
    path: Path, things: Iterable[tuple[Near, float]], half_mm: float
) -> list[tuple[float, int, str]]:
    """Air between the belt's straight pieces and things near it: mm, place in the list, and the two pulleys
    that the piece joins.

    `things` come with how far they have moved along x; `half_mm` is what the belt takes up beside its pitch
    line.
    """
    out = []
    for k, (thing, moved) in enumerate(things):
        box = (
            thing.x_mm + moved - thing.width_mm / 2,
            thing.y_mm - thing.height_mm / 2,
            thing.x_mm + moved + thing.width_mm / 2,
            thing.y_mm + thing.height_mm / 2,
        )
        for i, s in enumerate(path.spans):
            a, b = path.rounds[i].name, path.rounds[(i + 1) % len(path.rounds)].name
            out.append((_to_box((s.x0_mm, s.y0_mm), (s.x1_mm, s.y1_mm), box) - half_mm, k, f"{a} to {b}"))
    return out


Point = tuple[float, float]


def _to_box(a: Point, b: Point, box: tuple[float, float, float, float]) -> float:
    """Least distance from a straight piece to an upright rectangle; 0 where it cuts it."""
    corners = [(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])]
    if _enters(a, b, box):
        return 0.0
    return min(
        *(_to_piece(c, a, b) for c in corners),
        *(_to_piece(p, corners[i], corners[(i + 1) % 4]) for p in (a, b) for i in range(4)),
    )


def _enters(a: Point, b: Point, box: tuple[float, float, float, float]) -> bool:
    """Whether a straight piece runs through a rectangle: what is left of it after cutting at all four
    sides.
    """
    low, high = 0.0, 1.0
    for k in (0, 1):
        d = b[k] - a[k]
        if abs(d) < 1e-12:
            if not box[k] <= a[k] <= box[k + 2]:
                return False
            continue
        t0, t1 = sorted(((box[k] - a[k]) / d, (box[k + 2] - a[k]) / d))
        low, high = max(low, t0), min(high, t1)
    return low <= high


def _to_piece(p: Point, a: Point, b: Point) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    t = min(1.0, max(0.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / max(dx * dx + dy * dy, 1e-12)))
    return math.hypot(a[0] + t * dx - p[0], a[1] + t * dy - p[1])


def clear_of(ctx: Context, laid: Laid, things: list[Near]) -> None:
    """Air between both runs and everything that stands near them, at both ends of the travel."""
    if not things:
        return
    travel = ctx.book.results["travel.usable"].value or 0.0
    half = max(laid.profile.thickness_mm - laid.profile.tooth_height_mm, laid.profile.tooth_height_mm)
    found = [
        *clearances(laid.near, [(t, 0.0) for t in things], half),
        *clearances(laid.far, [(t, travel if t.rides else 0.0) for t in things], half),
    ]
    least, k, between = min(found)
    air = ctx.book.put(
        "clearance",
        "Least air beside the belt",
        max(least, 0.0),
        "mm",
        equation="min distance − belt beside its pitch line",
        source="geometry at both ends of the travel",
        x=ctx.given(f"end.near.{k}.x_mm"),
        y=ctx.given(f"end.near.{k}.y_mm"),
    )
    ctx.rung(
        "clearance",
        f"Belt clear of {things[k].label.lower() or 'what stands near'}",
        Given("catalogue.clearance", CLEAR_MM, "mm", "common practice", "a slack run swings about as much"),
        air,
        1.0,
        unit="mm",
        section="running",
        path=f"end.near.{k}.y_mm",
        says=f"It comes nearest to the belt from {between}: move it, or lead the belt round it with "
        f"a roller.",
    )


def slot_check(ctx: Context, slot: Given, width: Given) -> None:
    """Whether the belt runs free in the rail's slot."""
    if slot.value is None:
        return
    room = ctx.book.put(
        "slot.needed",
        "Slot that the belt needs",
        lambda: (width.value or 0) + 0.4,
        "mm",
        equation="b + 0.4",
        source_kind="common practice",
        source="0.2 mm of air on each side",
        b=width,
    )
    ctx.rung(
        "slot",
        "Belt runs free in the rail's slot",
        room,
        slot,
        1.0,
        unit="mm",
        section="running",
        path="end.slot_mm",
        says="A narrower belt, or lead the run beside the rail.",
    )


def fixing_grip(
    kind: str,
    screw_mm: float,
    screws: int,
    shaft_mm: Real,
    interference_mm: float,
    hub_mm: Real,
    length_mm: Real,
) -> Real:
    """Torque that one kind of fixing holds on a shaft, N·m, one shaft or an array; NaN where its screw has no
    rating.
    """
    if kind == "clamp":
        return fixings.clamp_grip(screw_mm, shaft_mm, screws, 0.15)
    if kind == "key":
        return fixings.key_grip(shaft_mm)
    if kind == "press fit":
        return fixings.press_grip(shaft_mm, hub_mm, interference_mm, length_mm, 0.12)
    hold = fixings.SET_SCREW_HOLD_N.get(screw_mm, math.nan)
    return fixings.set_screw_grip(hold, shaft_mm, screws, 2.0 if kind == "set screw on flat" else 1.0)
