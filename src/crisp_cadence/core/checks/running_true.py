"""Does the belt run true: flanges, faces, bends, line and axles, one set of checks for every toothed belt."""

from __future__ import annotations

from typing import Any

from ..account.context import Context
from ..fields.belts import Idler, Pulley
from ..fields.part import part_at
from ..formulas import belt
from ..geometry.route import Laid
from ..ledger.formula import Real
from ..ledger.many import is_column, least, most, pick
from ..ledger.quantity import Given, Quantity, Term
from .belt_line import in_line
from .holding import axles_square
from .tautness import Bears
from .wheels import Wheel, wheels

# Least diameter of a smooth idler, in least pulley diameters (handbooks: 1.3 to 1.5, from memory).
LEAST_BEND = 1.3
# Centre distance in small pulley diameters above which both pulleys want flanges (handbook, from memory)
LONG_CENTRE = 8.0


def run_true(ctx: Context, laid: Laid, key: str, tight: Quantity, more: Term, label: str = "") -> list[Bears]:
    """Flanges, faces, bends, line and axles of one belt, and what its axles bear; `key` goes before the names
    of its results, `label` behind its rungs'. A run at `tight` has `more` than the tension set.
    """
    listed = wheels(ctx, laid)
    _flanges(ctx, laid, listed, key, label)
    _faces(ctx, laid, listed, key, label)
    _bends(ctx, laid, listed, key, label)
    in_line(ctx, laid, key, label)
    return axles_square(ctx, listed, key, label, tight, more)


def guided(part: Pulley | Idler, laid: Laid) -> Real:
    """Whether a pulley keeps the belt from both sides."""
    if part.flanges == "both":
        return True
    if not isinstance(part, Idler) or part.washer_mm is None:
        return False
    return part.washer_mm >= part.diameter_mm + 2 * laid.profile.thickness_mm


def _flanges(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    kept = [guided(w.part, laid) for w in listed]
    have = 1.0 * sum(kept)
    small = 2 * least(*[w.radius_mm for w in listed])
    longest = most(*[s.length_mm for path in (laid.near, laid.far) for s in path.spans])
    need = least(pick(longest > LONG_CENTRE * small, 2.0, 1.0), float(len(listed)))
    flanged = ctx.book.put(
        f"{key}flanges",
        f"Pulleys with flanges on both sides{label}",
        have,
        "pulleys",
        equation="count",
        source_kind="your entry",
        source="flanges as entered",
        of=float(len(listed)),
    )
    wanted = ctx.book.put(
        f"{key}flanges_needed",
        f"Pulleys that want flanges{label}",
        need,
        "pulleys",
        equation="2 where a span is longer than 8 small diameters, else 1",
        source_kind="from memory",
        source="timing belt handbooks",
        span=longest,
        small=small,
    )
    # A count that is met says nothing of headroom: it would stand on top of every ladder.
    if ctx.plain and have >= need:
        return
    one = next((w.at for w, k in zip(listed, kept, strict=True) if not (is_column(k) or k)), listed[0].at)
    asked: Term = wanted
    if not ctx.plain:
        asked = Given(f"{key}flanges_asked", pick(have >= need, 0.0, need), "pulleys")
    ctx.rung(
        f"{key}flanges",
        f"Flanges keep the belt on{label}",
        asked,
        flanged,
        1.0,
        unit="pulleys",
        section="running",
        path=f"{one}.flanges",
        says="Flanges on both sides of one more pulley, or washers that stand over the belt's edges.",
    )


def _faces(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    paths = [f"{w.at}.{'face_mm' if isinstance(w.part, Pulley) else 'width_mm'}" for w in listed]
    faces = {path: ctx.given(path) for path in paths}
    _, at = ctx.extreme("least", [(face, path) for path, face in faces.items()], f"{key}face", "mm")
    narrow = ctx.book.put(
        f"{key}face",
        f"Narrowest face that the belt runs on{label}",
        lambda: least(*(face.n for face in faces.values())),
        "mm",
        equation="min",
        source="geometry",
        also={path.replace(".", "_"): face for path, face in faces.items()},
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
    """Smooth idlers against the least that the cords may be bent round; on the back, steel cord wants more,
    and more teeth on every pulley.
    """
    profile = laid.profile
    teeth = next((w.side for w in listed if isinstance(w.part, Pulley)), 1)
    smooth = [w for w in listed if isinstance(w.part, Idler) and w.part.kind == "smooth"]
    behind = [w for w in smooth if w.side != teeth]
    known = profile.back_bend_mm is not None
    for rung, words, found, back in (
        ("bend", "Bend round the smooth idler", [w for w in smooth if not known or w.side == teeth], False),
        ("back_bend", "Bend round the roller on its back", behind if known else [], True),
    ):
        if not found:
            continue
        terms: list[tuple[Term, str]] = [
            (ctx.given(f"{w.at}.diameter_mm"), f"{w.at}.diameter_mm") for w in found
        ]
        tightest, at = ctx.extreme("least", terms, f"{key}{rung}", "mm")
        ctx.rung(
            f"{key}{rung}",
            f"{words}{label}",
            _least_bend(ctx, laid, back),
            tightest,
            1.0,
            unit="mm",
            section="running",
            path=at,
            says="A larger idler; a belt bent too sharply breaks its cords.",
        )
    if behind and profile.back_teeth is not None:
        _both_ways(ctx, laid, listed, key, label)


def _cord(ctx: Context, laid: Laid) -> Any:
    """Its cord, or a column of them."""
    return part_at(ctx.design, f"{laid.at}.belt").cord


def _least_bend(ctx: Context, laid: Laid, back: bool) -> Given:
    profile = laid.profile
    usual = belt.pitch_diameter(profile.min_teeth, profile.pitch_mm) * LEAST_BEND
    if not back:
        return Given("catalogue.least_bend", usual, "mm", "from memory", "1.3 times the least pulley")
    kind, says = profile.sources["back_bend_mm"]
    at = f"catalogue.{profile.key}.back_bend_mm"
    return Given(at, pick(_cord(ctx, laid) == "steel", profile.back_bend_mm, usual), "mm", kind, says)


def _both_ways(ctx: Context, laid: Laid, listed: list[Wheel], key: str, label: str) -> None:
    """Teeth of the smallest pulley of a belt that also bends backwards."""
    profile, at = laid.profile, f"catalogue.{laid.profile.key}.back_teeth"
    kind, says = profile.sources["back_teeth"]
    asked = pick(_cord(ctx, laid) == "steel", profile.back_teeth, 1.0 * profile.min_teeth)
    toothed: list[tuple[Term, str]] = [
        (ctx.given(f"{w.at}.teeth"), f"{w.at}.teeth")
        for w in listed
        if isinstance(w.part, Pulley) or w.part.kind == "toothed"
    ]
    fewest, path = ctx.extreme("least", toothed, f"{key}back_teeth", "teeth")
    ctx.rung(
        f"{key}back_teeth",
        f"Teeth of a belt that bends both ways{label}",
        Given(at, asked, "teeth", kind, says),
        fewest,
        1.0,
        unit="teeth",
        section="running",
        path=path,
        says="A larger pulley, or a path without a roller on the belt's back.",
    )
