"""Does the belt run true: flanges, faces, bends, line and axles, one set of checks for every toothed belt."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import Idler, Pulley
from ..formulas import belt
from ..geometry.route import Laid
from ..ledger.quantity import Given, Quantity
from .belt_line import in_line
from .holding import axles_square
from .wheels import Wheel, wheels

# Least diameter of a smooth idler, in least pulley diameters (handbooks: 1.3 to 1.5, from memory).
LEAST_BEND = 1.3
# Centre distance in small pulley diameters above which both pulleys want flanges (handbook, from memory)
LONG_CENTRE = 8.0


def run_true(ctx: Context, laid: Laid, key: str, tight: Quantity, label: str = "") -> None:
    """Flanges, faces, bends, line and axles of one belt; `key` goes before the names of its results, `label`
    behind its rungs'.
    """
    listed = wheels(ctx, laid)
    _flanges(ctx, laid, listed, key, label)
    _faces(ctx, laid, listed, key, label)
    _bends(ctx, laid, listed, key, label)
    in_line(ctx, laid, key, label)
    axles_square(ctx, listed, key, label, tight)


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


def _flanges(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    have = sum(guided(w.part, laid) for w in listed)
    small = 2 * min(w.radius_mm for w in listed)
    longest = max(s.length_mm for path in (laid.near, laid.far) for s in path.spans)
    need = min(2 if longest > LONG_CENTRE * small else 1, len(listed))
    one = next((w.at for w in listed if not guided(w.part, laid)), listed[0].at)
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


def _faces(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    faces = {
        f"{w.at}.face_mm" if isinstance(w.part, Pulley) else f"{w.at}.width_mm": w.part.face_mm
        if isinstance(w.part, Pulley)
        else w.part.width_mm
        for w in listed
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


def _bends(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    smooth = {
        w.at: w.part.diameter_mm for w in listed if isinstance(w.part, Idler) and w.part.kind == "smooth"
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
