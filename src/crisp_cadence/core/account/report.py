"""What an evaluation returns: frozen, complete, every number with its formula, inputs and source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import field, replace
from functools import lru_cache
from typing import Literal

from pydantic import TypeAdapter

from ..geometry.scene import Scene
from ..ledger.quantity import Quantity
from ..ledger.record import record

Verdict = Literal["holds", "tight", "short", "unknown", "no demand"]
Step = Literal["aim", "drive", "belt", "shake", "build", "tune", "log"]
Section = Literal[
    "travel",
    "loads",
    "motor",
    "control",
    "stages",
    "end",
    "tension",
    "running",
    "stiffness",
    "bill",
    "readings",
]
# The step on which each section of the ladder stands.
STEP_OF: dict[Section, Step] = {
    "travel": "aim",
    "loads": "aim",
    "motor": "drive",
    "control": "drive",
    "stages": "drive",
    "end": "drive",
    "tension": "belt",
    "running": "belt",
    "stiffness": "shake",
    "bill": "build",
    "readings": "tune",
}


@record
class Rung:
    """One target of the headroom ladder. `headroom` is ratio over margin: at 1 and above it holds.

    Advisory ones do not count for the whole; of them `met` are those that a number meets which the program
    sets.
    """

    key: str
    label: str
    demand: float | None
    capacity: float | None
    unit: str
    ratio: float | None
    margin: float
    headroom: float | None
    verdict: Verdict
    missing: tuple[str, ...]
    lower_is_better: bool
    opens: tuple[str, ...]
    step: Step
    section: Section
    field: str
    says: str
    advisory: bool
    met: bool = False
    case: str = ""


@record
class DriveNode:
    """One part of the drive line, in power-flow order."""

    part: str
    label: str
    at: str
    field: str
    main: str
    speed: float | None
    speed_unit: str
    load: float | None
    load_unit: str
    give_share: float | None
    shows: tuple[str, ...] = ()  # what of the results is its own, by the beginning of their keys


@record
class Share:
    """A part's share of the give at the carriage, worst over the travel and at both ends of it."""

    part: str
    label: str
    share: float
    share_near: float
    share_far: float
    field: str


@record
class TravelCurves:
    """What changes along the usable travel; every list has one value for each position."""

    position_mm: tuple[float, ...]
    stiffness_n_mm: tuple[float, ...]
    mode_low_hz: tuple[float, ...]
    mode_high_hz: tuple[float, ...]
    give_mm: tuple[float, ...]
    pretension_n: tuple[float, ...]


@record
class TorqueCurve:
    """Pull-out torque against speed of the carriage, with what the move asks."""

    speed_mm_s: tuple[float, ...]
    torque_nm: tuple[float, ...]
    asked_speed_mm_s: float
    asked_torque_nm: float | None
    margin: float


@record
class CutLine:
    """One piece to cut or to buy by length; `key` is the result that its length comes from. `of` is what it
    is cut from, empty where it is bought as it is; so many `pieces` of that length; `sawn` ones lose a
    cut's width and may be left long at first.
    """

    what: str
    length_mm: float
    teeth: int
    note: str
    key: str = ""
    of: str = ""
    pieces: int = 1
    sawn: bool = False


def enough(pieces: float, wanted: float) -> bool:
    """Whether so many pieces are all that is wanted; lengths are counted in metres, to a millionth.

    >>> enough(2.0, 2.0), enough(1.0, 2.0)
    (True, False)
    """
    return pieces >= wanted * (1 - 1e-6)


@record
class BillLine:
    """One line of the bill; price None when it is not known yet, `typical` where it is what such a part
    costs as a rule, not what the maker was asked for.
    """

    what: str
    detail: str
    quantity: float
    unit: str
    price_each: float | None
    total: float | None
    in_stock: bool
    field: str
    typical: bool = False
    ordered: str = ""
    due: str = ""
    got: float = 0.0  # pieces here or on their way, where some are still to buy

    @property
    def to_buy(self) -> bool:
        """Whether it, or some of it, is neither here nor on its way."""
        return not self.in_stock and not self.ordered

    @property
    def to_spend(self) -> float | None:
        """What is still to spend on it; None where its price is not known."""
        if not self.to_buy:
            return 0.0
        left = 1.0 - self.got / self.quantity if self.got else 1.0
        return None if self.total is None else self.total * left

    def standing(self, in_stock: bool, ordered: str, due: str, got: float) -> BillLine:
        """The line as its part stands: all here, all on its way, or `got` pieces of it, the rest to buy."""
        if got > 0 and not enough(got, self.quantity):
            return replace(self, in_stock=False, ordered="", due=due, got=got)
        if in_stock:
            ordered = due = ""
        return replace(self, in_stock=in_stock, ordered=ordered, due=due, got=0.0)


State = Literal["", "loose", "aligned", "tightened", "locked", "look again"]


@record
class WorkStep:
    """One step of the order of work.

    `after` names what comes first: steps by their key, or what must stand, which all the steps together that
    give it bring about; `gives` is what it brings about itself. `covers` names the steps whose fasteners it
    makes unreachable, `fastens` the fasteners that it works at, `needs` the parts (by their design path) that
    must be here and `rests` what else it rests on, parts or results by key; `side` and `access` say from
    where a fastener is reached, and what is in the way.
    """

    key: str
    do: str
    state: State = ""
    after: tuple[str, ...] = ()
    gives: tuple[str, ...] = ()
    covers: tuple[str, ...] = ()
    fastens: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    rests: tuple[str, ...] = ()
    check: str = ""
    caution: str = ""
    tools: tuple[str, ...] = ()
    side: str = ""
    access: str = ""

    def called(self, by: Callable[[str], str]) -> WorkStep:
        """The same step, with other names for all that it names."""
        return replace(
            self,
            key=by(self.key),
            after=tuple(map(by, self.after)),
            gives=tuple(map(by, self.gives)),
            covers=tuple(map(by, self.covers)),
            fastens=tuple(map(by, self.fastens)),
            needs=tuple(map(by, self.needs)),
            rests=tuple(map(by, self.rests)),
        )


@record
class PlannedStep:
    """A step in its place: done, ready to be done today, or waiting, and for what; how what it rests on
    `stands` now, and what of that is no longer as it was when it was done.
    """

    key: str
    do: str
    state: State
    check: str
    caution: str
    covers: tuple[str, ...]
    now: Literal["done", "ready", "waits"]
    waits_for_steps: tuple[str, ...]
    waits_for_parts: tuple[str, ...]
    parts: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    side: str = ""
    access: str = ""
    done_on: str = ""
    stands: dict[str, str] = field(default_factory=dict)
    undone: str = ""


@record
class OrderLine:
    """A part to order, and the first step of the work that it holds up; those that hold up the earliest step
    come first.
    """

    what: str
    field: str
    total: float | None
    for_step: str


@record
class Caution:
    """A short warning at the place of work."""

    step: Step
    says: str


@record
class Setting:
    """A number for the controller."""

    label: str
    value: float | None
    unit: str
    note: str


@record
class PluckTarget:
    """Where to put the carriage, what to pluck, how it should sound and how far it may swing; the same by
    pushing the run aside, and by a scale at the idler.
    """

    run: str
    carriage_mm: float
    span_mm: float
    frequency_hz: float | None
    frequency_low_hz: float | None
    frequency_high_hz: float | None
    push_mm: float
    push_n: float | None
    push_low_n: float | None
    push_high_n: float | None
    swing_mm: float
    scale_n: float | None


@record
class Column:
    """What stands in a column of a table, and the unit of its numbers."""

    says: str
    unit: str = ""


@record
class Table:
    """Numbers best read in rows: a head of labels with units, and rows of numbers or words."""

    key: str
    title: str
    head: tuple[Column, ...]
    rows: tuple[tuple[float | str | None, ...], ...]
    note: str = ""
    step: Step = "drive"


@record
class Case:
    """One load case: a head, a direction or a setting, with its own verdict."""

    name: str
    verdict: Verdict
    in_words: str


@record
class Note:
    """Something to know that is neither a rung nor a refusal."""

    step: Step
    field: str
    says: str


@record
class Misfit:
    """A piece that is already made, and does not suit the design as it stands now."""

    key: str
    label: str
    made: float
    needed: float | None
    unit: str
    fits: bool
    says: str


@record
class Report:
    """The whole answer for one design.

    `guided`, `straight`, `sloped` and `positioning` are what its end and its motor say of themselves;
    `assumed` are the paths of values that nobody has chosen.
    """

    name: str
    verdict: Verdict
    worst: str
    in_words: str
    ladder: tuple[Rung, ...]
    results: tuple[Quantity, ...]
    drive_line: tuple[DriveNode, ...]
    shares: tuple[Share, ...]
    along: TravelCurves | None
    torque_curve: TorqueCurve | None
    scene: Scene | None
    stage_scenes: tuple[Scene, ...]
    tables: tuple[Table, ...]
    cases: tuple[Case, ...]
    case: str
    layout: str
    point: str
    guided: bool
    straight: bool
    sloped: bool
    positioning: bool
    cut: tuple[CutLine, ...]
    pluck: PluckTarget | None
    bill: tuple[BillLine, ...]
    bill_total: float
    bill_to_spend: float
    bill_typical: int
    bill_unpriced: int
    currency: str
    work: tuple[PlannedStep, ...]
    to_order: tuple[OrderLine, ...]
    cautions: tuple[Caution, ...]
    settings: tuple[Setting, ...]
    notes: tuple[Note, ...]
    misfits: tuple[Misfit, ...] = ()
    assumed: tuple[str, ...] = ()
    rigid: tuple[str, ...] = ()

    def value(self, key: str) -> float | None:
        """A result by its key; None where there is none of it, or where it lacks an input."""
        return next((q.value for q in self.results if q.key == key), None)

    @property
    def least(self) -> float | None:
        """Headroom of the rung that gives the verdict."""
        return next((r.headroom for r in self.ladder if r.key == self.worst), None)


def in_terms_of(report: Report, point: str) -> Report:
    """The report in words of another point than the carriage: the tip of an arm, the load of a winch."""

    def said(text: str) -> str:
        return text.replace("the carriage", f"the {point}")

    results = tuple(q.named(said(q.label)) for q in report.results)
    return replace(
        report,
        results=results,
        in_words=said(report.in_words),
        ladder=tuple(replace(r, label=said(r.label), says=said(r.says)) for r in report.ladder),
    )


BEHIND = {"inputs", "equation", "source_kind", "source"}


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[Report]:
    return TypeAdapter(Report)


def report_json(report: Report, *, inputs: bool = True, indent: int | None = None) -> bytes:
    """The report as JSON; the short one without what stands behind each result, its inputs, its equation and
    its source (a screen asks for those when one is opened).
    """
    if not inputs:
        return _adapter().dump_json(report, exclude={"results": {"__all__": BEHIND}}, indent=indent)
    for quantity in report.results:
        quantity.opened()
    return _adapter().dump_json(report, indent=indent)
