"""What tightens a closed belt: how far a shaft or a roller must go, the screw, the spring, and the tension
that comes by itself from a motor that hangs in it or from shafts that stand still.
"""

from __future__ import annotations

from functools import partial

from ...account.context import Context
from ...checks import tensioners
from ...formulas import belt
from ...ledger.formula import Real
from ...ledger.many import sin
from ...ledger.quantity import Given, Quantity, Term
from .closed_path import ClosedPath


def _named(at: str) -> tensioners.Named:
    return tensioners.Named(f"{at}.tensioner.", f"{at}.tensioner.", f"{at}.adjust_mm", ", closed belt")


def _moved_wrap(stage: ClosedPath, at: str, ctx: Context) -> Quantity:
    """Wrap on what the tensioner moves: the driver, or the first roller."""
    fitted = stage.fitted(at, ctx)
    if stage.tensioner.kind != "roller":
        return fitted.wrap
    roller = f"{at}.rollers.0"
    return ctx.book.put(
        f"{at}.tensioner.wrap",
        "Wrap on the roller that tightens the closed belt",
        next(w for x, w in zip(fitted.path.rounds, fitted.path.wraps, strict=True) if x.part == roller),
        "rad",
        equation="α from the belt path's tangents",
        source="common tangents",
        centre=fitted.centre,
    )


def made(stage: ClosedPath, at: str, ctx: Context) -> Quantity | None:
    """The tension that its tensioner makes by itself; None where somebody sets it."""
    fitted = stage.fitted(at, ctx)
    if stage.tensioner.kind == "none":
        return _stretched(stage, at, ctx)
    if stage.tensioner.kind == "hanging motor":
        motor = ctx.given(f"chain.{int(at.rpartition('.')[2]) - 1}.mass_kg")
        return tensioners.hung(ctx, stage.tensioner, _named(at), fitted.wrap, motor)
    return None


def _stretched(stage: ClosedPath, at: str, ctx: Context) -> Quantity:
    """Tension over shafts that stand still, so far apart as they are wanted."""
    fitted, wanted, profile = stage.fitted(at, ctx), ctx.given(f"{at}.wanted_mm"), stage.profile(at, ctx)
    longer = ctx.book.put(
        f"{at}.tensioner.longer",
        "Belt is stretched by, over shafts that stand still",
        lambda: stage.path_at(at, profile, wanted.n, ctx.refuse).length_mm - fitted.length.n,
        "mm",
        equation="L(C) − z·p",
        source="common tangents of circles",
        wanted=wanted,
        length=fitted.length,
    )
    return ctx.calc(
        f"{at}.tensioner.gives",
        "Tension that the distance of the shafts gives, closed belt",
        belt.tension_of_stretch,
        ea_n=fitted.ea,
        longer_mm=longer,
        length_mm=fitted.length,
    )


def budget(stage: ClosedPath, at: str, ctx: Context, tension: Quantity) -> tensioners.TakeUp | None:
    """Travel, screw and slot of what tightens it, and how far a spring must be drawn out."""
    fitted, named, kind = stage.fitted(at, ctx), _named(at), stage.tensioner.kind
    if kind == "none":
        return None
    stretch = ctx.calc(
        f"{at}.stretch",
        "Stretch of the closed belt at the set tension",
        belt.belt_stretch,
        tension_n=tension,
        ea_n=fitted.ea,
        length_mm=fitted.length,
    )
    held = tensioners.Taut(_moved_wrap(stage, at, ctx), fitted.ea, fitted.length, stretch, tension, 0.0)
    room = None if stage.wanted_mm is None else partial(_slot, stage, at, ctx, held)
    taken = tensioners.budget(ctx, stage.tensioner, named, held, room)
    if kind == "spring":
        pull, rate = tensioners.pull_at_rest(ctx, named, held), ctx.given(f"{at}.tensioner.rate_n_mm")
        ctx.book.put(
            f"{at}.tensioner.draw",
            "Draw the spring out by",
            lambda: pull.n / rate.n,
            "mm",
            equation="F/c",
            source="Hooke's law",
            pull=pull,
            rate=rate,
        )
    return taken


def _slot(stage: ClosedPath, at: str, ctx: Context, held: tensioners.Taut, travel: Quantity) -> Quantity:
    """Travel that is asked where the shafts were wanted at a distance of their own: of a slot whose middle
    stands there, or of a roller that takes up all of the difference.
    """
    fitted, wanted, wrap = stage.fitted(at, ctx), ctx.given(f"{at}.wanted_mm"), held.wrap
    off = ctx.book.put(
        f"{at}.off",
        "Shafts stand apart from what was wanted by",
        lambda: fitted.centre.n - wanted.n,
        "mm",
        equation="C − C_wanted",
        source="geometry",
        centre=fitted.centre,
        wanted=wanted,
    )

    def slot() -> Real:
        assert wrap is not None
        if stage.tensioner.kind == "roller":
            return travel.n + abs(off.n) / sin(wrap.n / 2)
        return stage.slot_for(off.n, 2 * sin(wrap.n / 2), held.stretch.n)

    return ctx.book.put(
        f"{at}.tensioner.demand",
        "Travel that the tensioner must have, for the shafts where they are wanted, closed belt",
        slot,
        "mm",
        equation="2·max(ΔC + (stretch + run-in)/runs, removal/runs − ΔC); at a roller s + |ΔC|/sin(α/2)",
        source="the slot's middle stands where the shafts are wanted",
        off=off,
        travel=travel,
        wrap=wrap,
    )


def moved_with_next(stage: ClosedPath, at: str, ctx: Context) -> None:
    """Tightening the next belt moves the shaft that this one drives: which comes first, and where the shaft
    stands so that both are taut.
    """
    j = int(at.rpartition(".")[2]) + 1
    after = f"chain.{j}"
    following = ctx.design.chain[j] if j < len(ctx.design.chain) else None
    if ctx.plain:
        then = (
            "then this one, by its own tensioner"
            if stage.tensioner.kind != "none"
            else "then look at this one again: it has no tensioner of its own, and changes with it"
        )
        ctx.note(
            "tune",
            f"{at}.tensioner.kind",
            f"Tightening the belt after it moves the shaft that the closed belt drives. Set that belt "
            f"first, {then}.",
        )
    if stage.outer_mm is None or not isinstance(following, ClosedPath):
        return
    first, second = _taut(stage, at, ctx), _taut(following, after, ctx)
    outer = ctx.given(f"{at}.outer_mm")
    reach, least = (
        ctx.book.put(
            f"{at}.{key}", label, both, "mm", equation=equation, source="geometry", first=first, second=second
        )
        for key, label, both, equation in (
            ("outer_most", "Outer shafts at most, both belts taut", lambda: first.n + second.n, "C1 + C2"),
            (
                "outer_least",
                "Outer shafts at least, both belts taut",
                lambda: abs(first.n - second.n),
                "|C1 − C2|",
            ),
        )
    )
    for key, label, demand, capacity in (
        ("outer", "Both belts of a shaft are taut, stretched out", outer, reach),
        ("outer_near", "Both belts of a shaft are taut, folded up", least, outer),
    ):
        ctx.rung(
            f"{at}.{key}",
            label,
            demand,
            capacity,
            1.0,
            unit="mm",
            section="tension",
            path=f"{at}.outer_mm",
            says="Other numbers of belt teeth, or outer shafts that stand where both belts reach.",
        )
    terms: dict[str, Term] = {"first_mm": first, "second_mm": second, "apart_mm": outer}
    for key, label, place in (("along", "along the line of the outer ones", 0), ("across", "beside it", 1)):
        ctx.book.put(
            f"{at}.middle_{key}",
            f"Shaft between both belts, {label}",
            partial(_place, first, second, outer, place),
            "mm",
            equation="x = (C1² − C2² + D²)/2D, y = √(C1² − x²)",
            source="intersection of two circles",
            also=terms,
        )


def _taut(stage: ClosedPath, at: str, ctx: Context) -> Quantity:
    """Distance of a belt's shafts with the tension that it is set to."""
    fitted, tension = stage.fitted(at, ctx), stage.tension(at, ctx)
    return ctx.book.put(
        f"{at}.taut_centre",
        "Shafts apart with the belt taut",
        lambda: fitted.centre.n + tension.n * fitted.length.n / fitted.ea.n / (2 * sin(fitted.wrap.n / 2)),
        "mm",
        equation="C + T·L/EA/(2·sin(α/2))",
        source="Hooke's law",
        centre=fitted.centre,
        tension=tension,
        length=fitted.length,
        ea=fitted.ea,
        wrap=fitted.wrap,
    )


def _place(first: Quantity, second: Quantity, outer: Given, place: int) -> Real:
    return belt.middle_shaft(first.n, second.n, outer.n)[place]
