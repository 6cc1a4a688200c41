"""The whole machine, worked out: its axes, one order of work, one order list, one sum."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping

from ..account.report import STEP_OF, PlannedStep, Rung, Setting, Verdict
from ..account.verdicts import RANK
from ..building.order import all_behind, sorted_steps
from ..fields.profile import Profile
from ..ledger.errors import Problem
from ..ledger.record import record
from .cutting import CutPlan, cut_plans
from .design import MachineFile
from .layout import Area, Bar, Way, areas, bars, way_of
from .money import MachineLine, Money, money_of, order_list
from .passing import Passing, Solid, passings, solids, told
from .work import Axes, Until, timeline

ROOM_ON_SUPPLY = 1.3  # of what is drawn, so that a supply runs cool (common practice, from memory)


@record
class AxisRow:
    """An axis of the machine: verdict in words, what moves on it, and what limits it."""

    key: str
    name: str
    rides_on: str
    verdict: Verdict
    in_words: str
    worst: str
    headroom: float | None
    says: str
    field: str
    step: str
    carried_kg: float | None
    moving_kg: float | None
    problems: tuple[Problem, ...]


@record
class Supply:
    """One supply for all motors of one voltage: the drivers, what they draw together, what to buy."""

    volts: float
    motors: int
    drivers: tuple[str, ...]
    axes: tuple[str, ...]
    power_w: float | None
    amps: float | None
    buy_w: float | None


@record
class MachineStep:
    """A step in the one order, with its number and the axis that it is of (empty for one of the maker's
    own); `behind` are the numbers of all steps that have to come before it.
    """

    number: int
    axis: str
    axis_name: str
    step: PlannedStep
    behind: tuple[int, ...]


@record
class AxisSettings:
    """What the controller has to know of one axis."""

    axis: str
    name: str
    way: Way
    settings: tuple[Setting, ...]


@record
class MachineReport:
    """Everything of a machine."""

    name: str
    verdict: Verdict
    in_words: str
    axes: tuple[AxisRow, ...]
    drawn: tuple[Bar, ...]
    areas: tuple[Area, ...]
    bodies: tuple[Solid, ...]
    passings: tuple[Passing, ...]
    work: tuple[MachineStep, ...]
    until: tuple[Until, ...]
    lines: tuple[MachineLine, ...]
    cuts: tuple[CutPlan, ...]
    supplies: tuple[Supply, ...]
    settings: tuple[AxisSettings, ...]
    money: Money
    left_out: tuple[str, ...]


def machine_report(machine: MachineFile, profiles: Mapping[str, Profile], today: str) -> MachineReport:
    """Work a whole machine out as it stands on a day."""
    axes = Axes(machine, profiles)
    planned = axes.planned()
    drawn = bars(axes)
    things = solids(axes, drawn)
    found = passings(axes, drawn, things)
    rows = tuple(_row(axes, key) for key in axes.axes)
    work = _numbered(axes, told(planned, found))
    worst = min(rows, key=lambda r: (RANK[r.verdict], r.headroom or 0.0), default=None)
    verdict: Verdict = worst.verdict if worst else "no demand"
    says = f"{worst.name}: {worst.in_words}" if worst else "no axis yet"
    if found and found[0].verdict == "short":
        hit = f"{found[0].a} and {found[0].b} are in each other's way"
        verdict, says = "short", f"{hit}; {says}" if verdict == "short" else f"short: {hit}"
    return MachineReport(
        machine.name,
        verdict,
        says,
        rows,
        drawn,
        areas(drawn),
        tuple(s for s in things if not s.axis),
        found,
        work,
        timeline(axes, today),
        order_list(axes, planned, today),
        cut_plans(axes),
        supplies(axes),
        tuple(
            AxisSettings(key, axes.name(key), way_of(axes, key), found.settings)
            for key, found in axes.reports.items()
        ),
        money_of(axes),
        tuple(
            f"{axes.name(key)} is left out: {found[0].field} {found[0].message}" if found else axes.name(key)
            for key, found in axes.left_out.items()
        )
        + tuple(
            f"{b.label} moves with an axis that is not here"
            for b in machine.bodies
            if b.on and b.on not in axes.axes
        ),
    )


def _numbered(axes: Axes, planned: Iterable[PlannedStep]) -> tuple[MachineStep, ...]:
    order, behind = sorted_steps(axes.waits), all_behind(axes.waits)
    number = {i: n for n, (i, _) in enumerate(order, 1)}
    out = []
    for step, (i, _) in zip(planned, order, strict=True):
        key = step.key.partition(":")[0]
        name = axes.name(key) if key in axes.axes else ""
        out.append(MachineStep(number[i], key, name, step, tuple(sorted(number[j] for j in behind[i]))))
    return tuple(out)


def _row(axes: Axes, key: str) -> AxisRow:
    axis = axes.axes[key]
    if key in axes.left_out:
        found = axes.left_out[key]
        says = f"{found[0].field}: {found[0].message}" if found else ""
        return AxisRow(
            key, axis.design.name, axis.rides_on, "unknown", says, "", None, "", "", "aim", None, None, found
        )
    run, report = axes.runs[key][0], axes.reports[key]
    rung: Rung | None = next((r for r in report.ladder if r.key == report.worst), None)
    carried = math.fsum(m.mass_kg * m.quantity for m in run.whole.riding) if run.whole.riding else 0.0
    return AxisRow(
        key,
        axis.design.name,
        axis.rides_on,
        report.verdict,
        report.in_words,
        rung.label if rung else "",
        rung.headroom if rung else None,
        rung.says if rung else "",
        rung.field if rung else "",
        rung.step if rung else STEP_OF["end"],
        carried,
        run.ctx.loads.masses.total.value,
        (),
    )


def supplies(axes: Axes) -> tuple[Supply, ...]:
    """One supply for each voltage; power where every motor on it says what it draws."""
    groups: dict[float, list[tuple[str, int, float | None]]] = {}
    drivers: dict[float, list[str]] = {}
    for key, (run, _) in axes.runs.items():
        driver = getattr(run.design.chain[0], "driver", None)
        volts = getattr(driver, "supply_v", None) or getattr(run.design.chain[0], "voltage_v", None)
        if not volts:
            continue
        if driver is not None and getattr(driver, "current_a", None):
            set_to = f"{driver.current_a:g} A {driver.current_is}, {driver.microsteps} microsteps"
            each = f"{axes.name(key)}: {run.ctx.counts.motors} × {set_to}"
            drivers.setdefault(float(volts), []).append(each)
        drawn = next((q for q in axes.reports[key].results if q.key == "supply.power"), None)
        groups.setdefault(float(volts), []).append(
            (axes.name(key), run.ctx.counts.motors, drawn.value if drawn is not None else None)
        )
    out = []
    for volts, listed in sorted(groups.items()):
        powers = [p for _, _, p in listed]
        power = None if any(p is None for p in powers) else math.fsum(p for p in powers if p is not None)
        out.append(
            Supply(
                volts,
                sum(n for _, n, _ in listed),
                tuple(drivers.get(volts, ())),
                tuple(name for name, _, _ in listed),
                power,
                None if power is None else power / volts,
                None if power is None else power * ROOM_ON_SUPPLY,
            )
        )
    return tuple(out)
