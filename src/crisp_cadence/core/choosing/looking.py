"""Combinations of a drawer on the one evaluation: each structure of the chain is walked through once for a
piece of them, with everything that differs as columns.

Three levels, each worked out once for what it depends on: pairs of a reduction and a belt (P), the same by
microsteps (S × P), and motors with such pairs (M × P). Which rung stands on which is seen from the shapes of
a small piece.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any

import numpy as np

from ..design.design import AxisDesign, as_measured
from ..evaluation.columns import Group, field_at, is_number, kinds_among, walked
from ..evaluation.evaluate import evaluate, work_out
from ..fields.columns import lacking, profile_of, put_in
from ..fields.part import UNORDERED
from ..fields.profile import Profile
from ..ledger.errors import EntryError, Problem
from ..ledger.formula import Real
from ..ledger.record import record
from .choice import FloatArray, Index
from .space import Space, candidate, taken

AFTERWARDS = ("line", "flanges", "ripple", "clearance")  # settled in the Belt step once the parts are chosen
SPEED = "speed"  # told exactly for what is listed
WORDS = ("label", "drawer_key", "price", "price_per_m", "in_stock", *UNORDERED, "source", "kind")


@record
class Level:
    """Headroom by rung, by microsteps too where those matter; what cannot be built, by why; and values for
    the next level and to rank by.
    """

    headroom: dict[str, Any]
    by_steps: dict[str, Any]
    unbuildable: dict[str, Any]
    values: dict[str, Any]


@record
class Structure:
    """Combinations of one kind of chain: its reductions and motors, and one of them as a design."""

    design: AxisDesign
    first: int
    second: int
    gears: Index
    motors: Index
    belts: Index


def flat(changes: Mapping[str, Any], at: str = "") -> Iterator[tuple[str, Any]]:
    """Changes by path, those within pieces of a part too."""
    for name, value in changes.items():
        if isinstance(value, dict):
            yield from flat(value, f"{at}{name}.")
        elif not isinstance(value, (list, tuple)):
            yield f"{at}{name}", value


def _kind_of(stage: Mapping[str, Any], profiles: Mapping[str, Profile]) -> Iterator[str]:
    """What makes a stage a kind of design of its own: its choices, and which numbers there are of it and of
    its profile.
    """
    if stage:
        yield str(stage["kind"])
    for path, value in flat(stage):
        if path.rpartition(".")[2] in WORDS or "source." in path or path.endswith("cord"):
            continue
        if path.endswith("profile"):
            yield f"{path} lacks {lacking(profiles[value])}"
            continue
        yield f"{path}={value}" if isinstance(value, (str, bool)) else f"{path} {value is None}"


class Table:
    """What differs among options of one kind, by path: numbers as a column, what is looked up as words; and
    the kinds of design among them, by what else differs.
    """

    def __init__(
        self, design: AxisDesign, profiles: Mapping[str, Profile], at: str, rows: Sequence[Mapping[str, Any]]
    ) -> None:
        self.columns: dict[str, np.ndarray] = {}
        listed = [dict(flat(row, at)) for row in rows]
        for path in dict.fromkeys(path for row in listed for path in row):
            values = [row.get(path) for row in listed]
            if path.rpartition(".")[2] in WORDS or ".source." in path or all(v == values[0] for v in values):
                continue
            if is_number(field_at(design, path)):
                self.columns[path] = np.array([math.nan if v is None else float(v) for v in values])
            else:
                self.columns[path] = np.array([str(v) for v in values])
        self.kinds = (
            kinds_among(design, profiles, self.columns)
            if self.columns
            else np.zeros(len(rows), dtype=np.intp)
        )


class Looker:
    """The combinations of a space, to be looked at piece by piece."""

    def __init__(self, design: AxisDesign, profiles: Mapping[str, Profile], space: Space) -> None:
        self.design, self.profiles, self.space = design, profiles, space
        self.steps = np.array(space.steps, dtype=float)
        base = self.built(0, 0, 0, 0)
        self.motor = Table(base, profiles, "", [c.changes for c in space.motors])
        self.belt = Table(base, profiles, "", [c.changes for c in space.belts])
        self.pulley = self._by_size(base, "end.pulley.", space.pulleys)
        self.rides = base.end.rides
        self.shaft = np.searchsorted(space.sizes, space.motor["shaft_mm"])
        self.labels: dict[str, str] = {}
        self._levels: dict[int, tuple[dict[str, str], tuple[str, ...]]] = {}
        self._base = base

    @property
    def most_steps(self) -> float:
        """Steps that the controller gives in a second."""
        motor: Any = self._base.chain[0]
        return float(motor.driver.step_rate_limit_hz) if motor.positioning else math.inf

    # ---- the design as it stands ------------------------------------------------------------------

    def built(self, motor: int, gear: int, belt: int, step: int) -> AxisDesign:
        """One combination as a design, as if it had been entered."""
        changes = candidate(self.design, self.space, motor, self.space.gear(gear), belt, step)
        return taken(as_measured(self.design), changes)

    @cached_property
    def standing(self) -> tuple[int, int, float, float]:
        """Motors and belts of the design, how many idlers each belt has, and what is to pay for everything
        that no combination replaces.
        """
        design, (worst, runs) = self.design, work_out(self.design, self.profiles)
        lines, counts = worst.report(runs).bill, worst.ctx.counts
        replaced = {"chain", *(("end.pulley", "end.belt") if self.space.pulleys else ())}
        kept = {f"chain.{j}" for j, s in enumerate(design.chain) if s in self.space.kept}
        paid = sum(
            line.total or 0.0
            for line in lines
            if line.to_buy
            and (line.field in kept or not any(line.field.startswith(part) for part in replaced))
        )
        idlers = sum(line.quantity for line in lines if line.field == "end.idler")
        return counts.motors, counts.belts, idlers / counts.belts, paid

    @cached_property
    def structures(self) -> list[Structure]:
        """Every kind of chain, motor and belt among the combinations."""
        space, out = self.space, []
        kinds = self._stage_kinds
        both = kinds[space.first] * (int(kinds.max()) + 1) + kinds[space.second]
        for code in np.unique(both):
            first, second = divmod(int(code), int(kinds.max()) + 1)
            gears = np.flatnonzero(both == code)
            for motor in np.unique(self.motor.kinds):
                motors = np.flatnonzero(self.motor.kinds == motor)
                for belt in np.unique(self.belt.kinds):
                    belts = np.flatnonzero(self.belt.kinds == belt)
                    design = self.built(int(motors[0]), int(gears[0]), int(belts[0]), 0)
                    out.append(Structure(design, first, second, gears, motors, belts))
        return out

    @cached_property
    def _stage_tables(self) -> dict[int, tuple[Table, Index, dict[str, FloatArray]]]:
        """By kind of stage: its table, where each stage stands in it, and its driver by size of shaft."""
        out: dict[int, tuple[Table, Index, dict[str, FloatArray]]] = {}
        space, kinds = self.space, self._stage_kinds
        for kind in np.unique(kinds):
            if not kind:
                continue
            members = np.flatnonzero(kinds == kind)
            where = np.full(len(kinds), -1, dtype=np.intp)
            where[members] = np.arange(len(members))
            rows = [space.stages[i].changes["stage"] for i in members]
            gear = int(np.flatnonzero(kinds[space.first] == kind)[0])
            design = self.built(0, gear, 0, 0)
            table = Table(design, self.profiles, "chain.1.", rows)
            drivers = [space.stages[i].changes.get("driver", ()) for i in members]
            by_size = self._by_size(design, "chain.1.driver.", drivers) if drivers[0] else {}
            out[int(kind)] = (table, where, by_size)
        return out

    @cached_property
    def _stage_kinds(self) -> Index:
        """The kind of each stage: 0 for none, and one for each that is walked through by itself."""
        said = [tuple(sorted(_kind_of(c.changes.get("stage", {}), self.profiles))) for c in self.space.stages]
        order = {key: n for n, key in enumerate(sorted(set(said)))}
        return np.array([order[key] for key in said], dtype=np.intp)

    def _by_size(self, design: AxisDesign, at: str, rows: Sequence[Sequence[Any]]) -> dict[str, FloatArray]:
        """Numbers of the pulleys that go on each size of shaft, by path: (options, sizes)."""
        names = [n for n in (rows[0][0].fields if len(rows) and rows[0] else {}) if n not in WORDS]
        found = {}
        for name in names:
            values = [[p.fields.get(name) for p in row] for row in rows]
            if is_number(field_at(design, f"{at}{name}")) and None not in values[0]:
                found[f"{at}{name}"] = np.array(values, dtype=float)
        return found

    def alike(self, s: Structure) -> list[Index]:
        """Motors of a structure that load the end alike: all, or where they ride along those of one mass."""
        if not self.rides:
            return [s.motors]
        mass = self.space.motor["mass_kg"][s.motors]
        unknown = [s.motors[np.isnan(mass)]] if np.isnan(mass).any() else []
        return [s.motors[mass == m] for m in np.unique(mass[~np.isnan(mass)])] + unknown

    @cached_property
    def bounds(self) -> dict[str, FloatArray]:
        """What every combination lies between: money for all but motors and stages, stiffness of the end with
        its drive held, mass.
        """
        found: dict[str, list[FloatArray]] = {"spend": [], "stiffness": [], "mass": []}
        of_motors = self.standing[0]
        riding = 2 * of_motors * float(np.nanmax(np.append(self.space.stage["mass_kg"], 0.0)))
        for s in self.structures:
            # The lightest and the heaviest motor span what there is; with one belt all are looked at.
            mass = self.space.motor["mass_kg"][s.motors]
            order = s.motors[np.argsort(mass)][: max(1, np.count_nonzero(~np.isnan(mass)))]
            some = s.motors if len(s.belts) == 1 else order[[0, -1]]
            group = self.look(s, some, np.full(len(s.belts), s.gears[0]), s.belts)
            if group.problems:
                continue
            with np.errstate(all="ignore"):
                mass = np.ravel(group.most("mass.total"))
                found["mass"] += [mass, mass + riding] if self.rides else [mass]
                stiff = np.ravel(group.most("stiffness.end"))
                # Where the end itself gives nothing, ten times the stiffest chain stands for it.
                found["stiffness"].append(
                    10 * np.ravel(group.most("stiffness.min")) if np.isnan(stiff).all() else stiff
                )
                cut = _flat(group.value("belt.cut"), len(s.belts))
                found["spend"].append(self._end_spend(s.belts, cut) + self.space.belt["fuss"][s.belts])
        return {name: np.concatenate(parts) if parts else np.empty(0) for name, parts in found.items()}

    # ---- a piece ------------------------------------------------------------------

    def look(self, s: Structure, motors: Index, gears: Index, belts: Index, beside: bool = False) -> Group:
        """Motors with every pair of a reduction and a belt, on (S, M, P); or one motor beside each pair."""
        space = self.space
        one = (1, 1, len(gears))
        many = one if beside else (1, len(motors), 1)
        wide = one if beside else (1, len(motors), len(gears))
        columns: dict[str, np.ndarray] = {"chain.0.driver.microsteps": self.steps.reshape(-1, 1, 1)}
        for path, values in self.motor.columns.items():
            here = values[motors]
            if path != "chain.0.mass_kg":
                columns[path] = here.reshape(many)
            elif self.rides:
                same = beside is False and (len(here) == 1 or bool((here == here[0]).all()))
                columns[path] = here[:1].reshape(1, 1, 1) if same else here.reshape(many)
        for path, values in self.belt.columns.items():
            columns[path] = values[belts].reshape(one)
        shaft, wide_shaft = self.shaft[motors].reshape(many), True
        for slot, kind in ((1, s.first), (2, s.second)):
            if not kind:
                continue
            table, where, drivers = self._stage_tables[kind]
            stages = (space.first if slot == 1 else space.second)[gears]
            at = where[stages]
            for path, values in table.columns.items():
                columns[_in_slot(path, slot)] = values[at].reshape(one)
            for path, sizes in drivers.items():
                shape = wide if wide_shaft else one
                columns[_in_slot(path, slot)] = _sized(sizes, at.reshape(one), shaft, shape)
            shaft = np.searchsorted(space.sizes, space.stage["shaft_mm"][stages]).reshape(one)
            wide_shaft = False
        for stage in space.kept[-1:]:
            shaft, wide_shaft = np.searchsorted(space.sizes, np.full(one, stage.shaft_mm)), False
        for path, sizes in self.pulley.items():
            columns[path] = _sized(sizes, belts.reshape(one), shaft, wide if wide_shaft else one)
        return self._walked(s.design, columns)

    def _walked(self, design: AxisDesign, columns: dict[str, np.ndarray]) -> Group:
        made, known = design, dict(self.profiles)
        for path, values in columns.items():
            if path.endswith("belt.profile"):
                known[path] = profile_of(self.profiles, values)
                made = put_in(made, path, path)
            else:
                made = put_in(made, path, values)
        return walked(made, known)

    def _small(self, s: Structure) -> Group:
        twice = np.zeros(2, dtype=np.intp)
        return self.look(s, s.motors[twice], s.gears[twice], s.belts[twice])

    def levels(self, place: int) -> tuple[dict[str, str], tuple[str, ...]]:
        """Of each rung of a structure on which level it stands, and of each refusal."""
        if place not in self._levels:
            self._levels[place] = self._levels_of(self._small(self.structures[place]))
        return self._levels[place]

    def _levels_of(self, small: Group) -> tuple[dict[str, str], tuple[str, ...]]:
        for run in small.runs:
            self.labels.update({t.key: t.label for t in run.ctx.targets})
        with np.errstate(all="ignore"):
            rungs = {
                key: _level(small.headroom(key))
                for key, targets in small.targets.items()
                if not targets[0].advisory and key.rpartition(".")[2] not in AFTERWARDS and key != SPEED
            }
            return rungs, tuple(_level(mask) for mask in small.masks())

    def pairs(self, place: int, motor: int, gears: Index, belts: Index) -> Level:
        """Reductions beside belts: rungs that no motor changes; `motor` is any of those that they will have
        (where it rides along, one of the same mass).
        """
        s, (rungs, masks) = self.structures[place], self.levels(place)
        group = self.look(s, np.array([motor], dtype=np.intp), gears, belts)
        with np.errstate(all="ignore"):
            head = {k: _flat(group.headroom(k), len(gears)) for k, level in rungs.items() if level == "pairs"}
            by_steps = {
                k: np.broadcast_to(group.headroom(k)[:, 0, :].T, (len(gears), len(self.steps)))
                for k, level in rungs.items()
                if level == "steps"
            }
            bad = self._refused(place, group, masks, "pairs", gears, belts)
            step = np.broadcast_to(
                _shaped(group.most("command_step"))[:, 0, :].T, (len(gears), len(self.steps))
            )
            values = {
                "lam": _flat(group.value("motor.lam"), len(gears)),
                "mass": _flat(group.most("mass.total"), len(gears)),
                "step": step,
                "cut": _flat(group.value("belt.cut"), len(gears)),
                "gear": gears,
                "belt": belts,
            }
        return Level(head, by_steps, {k: m.reshape(-1) for k, m in bad.items()}, values)

    def motors(self, place: int, motors: Index, pairs: Level) -> Level:
        """Motors with every pair: rungs and refusals that depend on them, (M, P)."""
        s, (rungs, masks) = self.structures[place], self.levels(place)
        gears, belts = pairs.values["gear"], pairs.values["belt"]
        group = self.look(s, motors, gears, belts)
        with np.errstate(all="ignore"):
            head = {k: _shaped(group.headroom(k))[0] for k, level in rungs.items() if level == "motors"}
            bad = self._refused(place, group, masks, "motors", gears, belts, motors)
            spend = self.spend(motors[:, None], gears, belts, pairs.values["cut"])
            if (budget := self.design.aim.budget) is not None:
                head["money"] = _over(budget, spend)
            values = {
                "spend": spend,
                "stiffness": _shaped(group.least("stiffness.min"))[0],
                "asked": _shaped(group.most("chain.0.torque_accelerate"))[0],
            }
        return Level(head, {}, bad, values)

    def _refused(
        self,
        place: int,
        group: Group,
        levels: Sequence[str],
        wanted: str,
        gears: Index,
        belts: Index,
        motors: Index | None = None,
    ) -> dict[str, Any]:
        """What cannot be built, by the reason that the first of it gives."""
        out: dict[str, Any] = {}
        if group.problems:
            return (
                {
                    self._told(self.structures[place].design, group.problems): np.ones(
                        (1, len(gears)), dtype=bool
                    )
                }
                if wanted == "pairs"
                else {}
            )
        for number, (mask, level) in enumerate(zip(group.masks(), levels, strict=True)):
            if level != wanted or not mask.any():
                continue
            full = mask[0]
            m, p = np.argwhere(np.broadcast_to(full, (full.shape[0], len(gears))))[0]
            key = self._reason(
                place, number, int(motors[m]) if motors is not None else None, int(gears[p]), int(belts[p])
            )
            out[key] = out[key] | full if key in out else full
        return out

    @cached_property
    def _reasons(self) -> dict[tuple[int, int], str]:
        return {}

    def _reason(self, place: int, number: int, motor: int | None, gear: int, belt: int) -> str:
        """The field that one kind of refusal names."""
        if (place, number) not in self._reasons:
            any_motor = int(self.structures[place].motors[0]) if motor is None else motor
            design = self.built(any_motor, gear, belt, 0)
            try:
                evaluate(design, self.profiles)
                self._reasons[place, number] = "unbuildable"
            except EntryError as error:
                self._reasons[place, number] = self._told(design, error.problems)
        return self._reasons[place, number]

    def _told(self, design: AxisDesign, problems: Sequence[Problem]) -> str:
        """The field that a refusal names; said in words, it is labelled by its part and title."""
        field = problems[0].field
        part = field.rpartition(".")[0].rpartition(".")[2].replace("_", " ")
        try:
            title = field_at(design, field).title or field
        except EntryError:  # of a list, or of the design as a whole
            title = field
        whose = "" if not part or part.isdigit() or part in title.lower() else f"{part} "
        says = f"{whose}{title[:1].lower() if whose else title[:1]}{title[1:]} {problems[0].message}"
        self.labels[field] = says[:1].upper() + says[1:]
        return field

    # ---- single combinations ------------------------------------------------------------------

    def beside(
        self, places: Sequence[tuple[int, int, int, int]]
    ) -> tuple[dict[str, FloatArray], dict[str, FloatArray]]:
        """Single combinations one beside the other: headroom by rung, 0 where one cannot be built, and values
        to list.
        """
        i, j, k, s = np.array(places, dtype=np.intp).reshape(-1, 4).T
        head: dict[str, FloatArray] = {}
        values = {n: np.full(len(i), np.nan) for n in ("spend", "stiffness", "step", "mass", "reach")}
        for place, structure in enumerate(self.structures):
            mine = np.flatnonzero(
                np.isin(j, structure.gears) & np.isin(i, structure.motors) & np.isin(k, structure.belts)
            )
            if not mine.size:
                continue
            group = self.look(structure, i[mine], j[mine], k[mine], beside=True)
            rungs, _ = self.levels(place)
            rows = np.arange(len(mine))

            def one(found: Real, at: Index = mine, rows: Index = rows) -> FloatArray:
                full = np.broadcast_to(_shaped(found), (len(self.steps), 1, len(at)))
                return np.asarray(full[s[at], 0, rows])

            with np.errstate(all="ignore"):
                bad = (
                    one(group.refused()).astype(bool)
                    if not group.problems
                    else np.ones(len(mine), dtype=bool)
                )
                found = {} if group.problems else {k: one(group.headroom(k)) for k in (*rungs, "speed")}
                if not group.problems:
                    cut = one(group.value("belt.cut"))
                    values["spend"][mine] = self.spend(i[mine], j[mine], k[mine], cut)
                    values["stiffness"][mine] = one(group.least("stiffness.min"))
                    values["step"][mine] = one(group.most("command_step"))
                    values["mass"][mine] = one(group.most("mass.total"))
                    values["reach"][mine] = one(group.least("motor.reach"))
            if self.design.aim.budget is not None and not group.problems:
                found["money"] = _over(self.design.aim.budget, values["spend"][mine])
            found["unbuildable"] = np.where(bad, 0.0, np.inf)
            for key, h in found.items():
                head.setdefault(key, np.full(len(i), np.inf))[mine] = h
        return head, values

    # ---- money ------------------------------------------------------------------

    def spend(self, motors: Index, gears: Index, belts: Index, cut_mm: FloatArray) -> FloatArray:
        """What is still to pay for combinations: motors beside pairs, or columns of motors."""
        space = self.space
        of_motors, of_belts, _, _ = self.standing
        first, second = space.first[gears], space.second[gears]
        out = of_motors * (
            space.motor["spend"][motors] + space.stage["spend"][first] + space.stage["spend"][second]
        )
        shaft = space.motor["shaft_mm"][motors]
        for stages in (first, second):
            out = out + of_motors * self._more(space.driver_more, stages, shaft)
            own = space.stage["shaft_mm"][stages]
            if not np.isnan(own).all():
                shaft = np.where(np.isnan(own), shaft, own) if np.isnan(own).any() else own
        out = out + of_belts * self._more(space.more, belts, shaft)
        return np.asarray(out + self._end_spend(belts, cut_mm))

    def fuss(self, motors: Index, gears: Index, belts: Index) -> FloatArray:
        """What trouble combinations are, as if it were money."""
        space, of_motors = self.space, self.standing[0]
        stages = space.stage["fuss"][space.first[gears]] + space.stage["fuss"][space.second[gears]]
        return np.asarray(of_motors * (space.motor["fuss"][motors] + stages) + space.belt["fuss"][belts])

    def _end_spend(self, belts: Index, cut_mm: FloatArray) -> FloatArray:
        """What is to pay for belts with their cheapest pulleys, and for everything that stays."""
        of, (_, of_belts, idlers, paid) = self.space.belt, self.standing
        per_m = np.where(of["per_m"][belts] > 0, of["per_m"][belts] * cut_mm / 1000, 0.0)
        return np.asarray(of_belts * (of["spend"][belts] + idlers * of["idler_more"][belts] + per_m) + paid)

    def _more(self, table: FloatArray, at: Index, shaft: FloatArray) -> FloatArray:
        """What a pulley costs on a shaft beyond the cheapest; nothing to look up where no size differs."""
        if (table == table[:, :1]).all():
            return np.asarray(table[at, 0])
        return np.asarray(
            table[at, np.minimum(np.searchsorted(self.space.sizes, shaft), len(self.space.sizes) - 1)]
        )


def _over(budget: float, spend: FloatArray) -> FloatArray:
    return np.where(spend <= 0, np.inf, budget / np.where(spend <= 0, 1.0, spend))


def _in_slot(path: str, slot: int) -> str:
    return path if slot == 1 else path.replace("chain.1.", f"chain.{slot}.", 1)


def _sized(table: FloatArray, at: Index, shaft: Index, shape: tuple[int, int, int]) -> FloatArray:
    """Numbers of options on shafts beside or across them; no wider than they differ."""
    if (table == table[:, :1]).all():
        return np.asarray(table[at, 0])
    return np.asarray(table[np.broadcast_to(at, shape), np.broadcast_to(shaft, shape)])


def _shaped(found: Real) -> np.ndarray:
    return found if np.ndim(found) == 3 else np.full((1, 1, 1), found)


def _flat(found: Real, count: int) -> FloatArray:
    return np.broadcast_to(_shaped(found)[0, 0], (count,))


def _level(found: Real) -> str:
    """On which level a number of a small piece stands."""
    steps, motors, _ = _shaped(found).shape
    assert steps == 1 or motors == 1, "a rung of both motors and microsteps"
    return "motors" if motors > 1 else "steps" if steps > 1 else "pairs"
