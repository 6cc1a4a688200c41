"""Everything that is settled in the Belt step before anything is cut, from a design and the drawer."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..building.misfits import misfits
from ..checks import belt_line
from ..checks.tensioners import KINDS
from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.belts import Idler, Pulley
from ..fields.frames import side_of
from ..fields.part import part_at
from ..fields.profile import Profile
from ..fields.screws import COARSE, of_size, screw_name
from ..formulas import belt
from ..geometry.figures import Drawing
from ..geometry.route import Laid, roller_offer
from ..ledger.amounts import said
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.contract import End
from ..parts.ends.spindle import Spindle
from ..parts.stages.closed_belt import ClosedBelt
from . import grooved, rolls, stock_belts
from .aligning import datum, line_rows
from .drawer import Stock, number, of_kind, screw_at_least
from .drawings import drawing_of, out_rows
from .holding import brackets, fits
from .rows import BeltPlan, BeltRow, ClosedPlan, TensionerPlan, TravelPiece, WheelRow


def plan_belts(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> BeltPlan:
    """Lengths, rolls, stock belts, tensioner, belt line, brackets and bores of every belt of an axis.

    EntryError where the design itself cannot be worked out.
    """
    return plan_of(work_out(design, profiles)[0], drawer)


def plan_of(run: Run, drawer: Sequence[Stock]) -> BeltPlan:
    """The same of an axis that is worked out, in its worst case."""
    ctx, end, stages = run.ctx, run.end, run.stages
    laid = _laid(run)
    cuts = [c for j, s in enumerate(stages) for c in s.cut(f"chain.{j}", ctx)] + end.cut(ctx)
    packing, says = _pack(run, end, drawer)
    line = line_rows(run, laid, drawer)
    rows, stock = [_belt_row(run, x) for x in laid], []
    if isinstance(end, Spindle):
        rows, line, stock = (
            grooved.belt_rows(run, end),
            grooved.line_rows(run, end),
            grooved.stock_lengths(run, end, drawer),
        )
    return BeltPlan(
        tuple(rows),
        tuple(cuts),
        packing,
        says,
        tuple(
            _closed(run, s, f"chain.{j}", drawer) for j, s in enumerate(stages) if isinstance(s, ClosedBelt)
        ),
        tuple(stock),
        _tensioner(run, end, drawer) if isinstance(end, BeltEnd) else None,
        tuple(line),
        datum(run, laid)[0]
        or (
            "Heights of the grooves in use, above a datum of your choice."
            if any(r.height_mm is not None for r in line)
            else ""
        ),
        tuple(brackets(run, end, laid)),
        tuple(fits(run, end)),
        misfits(run.design.made, ctx.book.results),
        tuple(out_rows(run, line)),
    )


def plan_drawing(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], what: str
) -> Drawing:
    """One of the drawings that a plan lists; EntryError names those that there are."""
    run, _ = work_out(design, profiles)
    return drawing_of(run, line_rows(run, _laid(run), drawer), what)


def _laid(run: Run) -> list[Laid]:
    ctx = run.ctx
    return [x for j, s in enumerate(run.stages) for x in s.taut(f"chain.{j}", ctx)] + run.end.taut(ctx)


# ---- the path ----------------------------------------------------------------------------------------------


def _belt_row(run: Run, laid: Laid) -> BeltRow:
    tension = laid.tension_n
    first = next((r for r in laid.near.rounds if r.radius_mm > 0), None)
    drive = next((r for r in laid.near.rounds if isinstance(part_at(run.design, r.part), Pulley)), first)
    rows, cards = [], []
    count = len(laid.near.rounds)
    for i, (round_, wrap) in enumerate(zip(laid.near.rounds, laid.near.wraps, strict=True)):
        part = part_at(run.design, round_.part)
        toothed = isinstance(part, Pulley) or (isinstance(part, Idler) and part.kind == "toothed")
        teeth = round(2 * math.pi * round_.radius_mm / laid.profile.pitch_mm) if toothed else 0
        back = drive is not None and round_.side != drive.side
        spans = [(p.spans[i].length_mm if i < len(p.spans) else None) for p in (laid.near, laid.far)]
        free = round_.radius_mm <= 0
        rows.append(
            WheelRow(
                round_.name,
                round_.part,
                round_.field,
                "" if free else "back" if back else "teeth",
                teeth,
                round_.radius_mm,
                round_.x_mm,
                round_.y_mm,
                math.degrees(wrap),
                math.floor(teeth * wrap / (2 * math.pi) + 1e-9) if teeth else None,
                "" if free else "anticlockwise" if round_.side > 0 else "clockwise",
                None if free or tension is None else float(belt.shaft_load(tension, tension, wrap)),
                belt_line.height_of(part),
                spans[0],
                spans[1],
            )
        )
        if free:
            opening = "begin here, teeth towards the drive pulley"
            closing = "end here, as many teeth held as at the beginning"
            cards.append(f"{i + 1}. {round_.name}: {opening if i == 0 else closing}.")
        else:
            cards.append(
                f"{i + 1}. {round_.name}: {'back' if back else 'teeth'} of the belt on it, "
                f"{math.degrees(wrap):.0f}° "
                f"{'anticlockwise' if round_.side > 0 else 'clockwise'}."
            )
    if laid.closed:
        cards.append(f"{count + 1}. Back to the {laid.near.rounds[0].name}; no twist anywhere.")
    return BeltRow(
        laid.at,
        laid.name,
        laid.closed,
        laid.near.length_mm,
        laid.near.length_mm / laid.profile.pitch_mm,
        tension,
        tuple(rows),
        tuple(cards),
        roller_offer(laid, run.end.roller_origin(run.ctx) if laid.at == "end" else (0.0, 0.0)),
    )


# ---- lengths -----------------------------------------------------------------------------------------------


def _pack(run: Run, end: End, drawer: Sequence[Stock]) -> tuple[rolls.Packing | None, str]:
    if not isinstance(end, BeltEnd):
        return None, ""
    length, n = end.strained(run.ctx).cut.length.value, run.ctx.counts.belts
    if length is None:
        return None, "The length to cut is not known yet."
    pieces = [rolls.CutPiece("belt" if n == 1 else f"belt {i + 1}", length) for i in range(n)]
    owned, sold = [], []
    for row in of_kind(drawer, "roll"):
        long, width = number(row, "length_mm"), number(row, "width_mm")
        same = (
            row.data.get("profile") == end.belt.profile
            and width is not None
            and abs(width - end.belt.width_mm) < 0.05
            and row.data.get("cord") == end.belt.cord
        )
        if long is None or not same:
            continue
        owned += [rolls.Roll(row.key, row.name, long, 0.0, True)] * min(row.quantity, 40)
        sold += [rolls.Roll(row.key, row.name, long, row.price, False)] * n
    packing = rolls.pack(pieces, owned)
    if not packing.unplaced:
        return packing, "From the drawer, nothing to buy."
    more = rolls.pack(list(packing.unplaced), sold)
    whole = rolls.Packing(
        (*packing.cuts, *more.cuts),
        more.unplaced,
        packing.opened_mm + more.opened_mm,
        packing.exact and more.exact,
    )
    if whole.unplaced:
        most = max((r.length_mm for r in [*owned, *sold]), default=0.0)
        return whole, (
            f"No roll is long enough: {said(length, 'mm', '.0f')} are needed, the longest is "
            f"{said(most, 'mm', '.0f')}. Buy "
            f"this belt by the metre."
            if most
            else f"The drawer knows no roll of this belt ({end.belt.profile}, {end.belt.width_mm:g} "
            f"mm, {end.belt.cord} cord). Add one with its length, or buy "
            f"{said(length / 1000 * n, 'm', '.2f')}."
        )
    return (
        whole,
        "Part of it from the drawer, the rest to buy."
        if packing.cuts
        else "Nothing in the drawer is long enough: buy the roll named.",
    )


def _closed(run: Run, stage: ClosedBelt, at: str, drawer: Sequence[Stock]) -> ClosedPlan:
    profile = run.ctx.profile(stage.belt.profile, f"{at}.belt.profile")
    centre = stage.fitted(at, run.ctx).centre.value or 0.0
    wanted = stage.wanted_mm if stage.wanted_mm is not None else centre
    stock = stock_belts.stock_lengths(stage, at, profile, drawer, wanted)
    good = [s for s in stock if s.fits]
    if not stock:
        reach = (
            f"The drawer knows no closed belt of {profile.name}, {stage.belt.width_mm:g} mm "
            f"wide. Add one, or take another width."
        )
    elif good:
        reach = (
            f"{len(good)} stock length{'s' if len(good) > 1 else ''} within the slot of "
            f"{said(stage.adjust_mm, 'mm')}."
        )
    else:
        off = [abs(s.off_mm) for s in stock if s.off_mm is not None]
        reach = (
            f"No stock length reaches {said(wanted, 'mm', '.1f')} within the slot: the nearest is "
            f"{said(min(off), 'mm', '.2f')} off. Lengthen the slot to "
            f"{said(2 * min(off) + 1, 'mm', '.0f')}, move the motor, or take "
            f"another pair of pulleys below."
            if off
            else "No stock length is long enough for these pulleys. Take smaller ones, or a longer belt."
        )
    motor = side_of(getattr(run.design.chain[0], "frame", ""), 60.0)
    before = getattr(run.design.chain[int(at.split(".")[1]) - 1], "shaft_mm", stage.driver.bore_mm)
    pairs = stock_belts.pairs(stage, at, before, profile, drawer, wanted)
    return ClosedPlan(
        at,
        wanted,
        centre,
        reach,
        tuple(stock),
        tuple(pairs),
        tuple(stock_belts.placements(stage, profile, centre, motor)),
    )


# ---- tensioner ---------------------------------------------------------------------------------------------


def _tensioner(run: Run, end: BeltEnd, drawer: Sequence[Stock]) -> TensionerPlan | None:
    strained, t = end.strained(run.ctx), end.tensioner
    took, slack = strained.take_up, strained.cut.slack.value or 0.0
    if took is None:
        return None
    moves, set_by, lock_by = KINDS[t.kind]

    runs = took.runs.value or 1.0
    pieces = (
        TravelPiece("removal", t.removal_mm / runs),
        TravelPiece("fitting slack", slack / runs),
        TravelPiece("stretch", (took.stretch.value or 0.0) / runs),
        TravelPiece("run-in", t.run_in_mm / runs),
    )
    needs, slot = took.demand.value or 0.0, (took.slot.value if took.slot else None) or 0.0
    thread = math.inf if took.thread is None else took.thread.value or 0.0
    has, margin = min(t.travel_mm, thread), run.design.assumptions.margin_other
    wanted = max(needs * margin, needs + 0.5)
    least = wanted / t.lever + t.through_mm + t.screw_mm
    screw = screw_at_least(drawer, t.screw_mm, least)
    long = number(screw, "length_mm") if screw is not None else None
    mend: dict[str, float] = {}
    if has < needs * margin - 1e-9:
        if t.travel_mm < wanted:
            mend["end.tensioner.travel_mm"] = math.ceil(wanted * 2) / 2
        if t.screw_length_mm is not None and thread < wanted:
            mend["end.tensioner.screw_length_mm"] = long if long is not None else math.ceil(least)
    if t.pitch_mm is None and of_size(COARSE, t.screw_mm) is None:
        says = (
            f"A screw of {t.screw_mm:g} mm is no coarse thread of the tables (M2 to M16, #4 to 1/2 in): "
            "enter its pitch, or its turn stays open."
        )
    elif has < needs:
        ends = "the thread ends" if thread < t.travel_mm else "the slot ends"
        says = (
            f"It runs out: {ends} at {said(has, 'mm', '.1f')} and {said(needs, 'mm', '.1f')} are needed, "
            f"{said(needs - has, 'mm', '.1f')} short."
        )
    elif mend:
        says = (
            f"Just enough: {said(has, 'mm', '.1f')} for {said(needs, 'mm', '.1f')}; common practice keeps "
            "a tenth more."
        )
    else:
        says = f"{said(has - needs, 'mm', '.1f')} to spare."
    name = (
        screw.name
        if screw is not None
        else f"a screw {screw_name(t.screw_mm)} of at least {said(math.ceil(least), 'mm')} "
        "(none in the drawer's list)"
    )
    return TensionerPlan(t.kind, moves, set_by, lock_by, pieces, needs, has, name, long, slot, mend, says)
