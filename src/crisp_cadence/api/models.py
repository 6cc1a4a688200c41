"""Requests and answers of the API; what a design and a report are is defined in the core."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from ..core.account.report import Report
from ..core.choosing.beginning import Ask
from ..core.choosing.find import SearchAnswer
from ..core.choosing.how_far import Reaches
from ..core.choosing.propose import Proposals
from ..core.choosing.space import PLAIN, Reduction, Scope
from ..core.choosing.tries import Changes
from ..core.choosing.ways import WaysAnswer
from ..core.design.design import AxisDesign
from ..core.fields.part import SourceKind
from ..core.fields.profile import ToothForm
from ..core.fitting.drawer import Datum as DatumWords
from ..core.fitting.rows import BeltPlan
from ..core.geometry.scene import Scene
from ..core.ledger.errors import Problem
from ..core.ledger.formula import Formula
from ..core.ledger.quantity import Quantity
from ..core.machine.design import MachinePlan, MaybeDay, Ref
from ..core.machine.report import MachineReport
from ..core.tuning.calibrating import MovesReading
from ..core.tuning.moves import Program, Wanted
from ..core.tuning.reading import Belt, Measured, Reading
from ..core.tuning.squaring import SquareReading
from ..core.tuning.taken import AnyReading
from ..core.tuning.teaching import Taught
from ..core.tuning.trials import TrialReading
from ..exchange.drawer import MOST_ROWS
from ..store.axes import Off, Revision
from ..store.drawer import DrawerRow, Intake, Turned
from ..store.history import Thinned
from ..store.log import LogEntry, LogKind
from .limits import LARGEST_SENT

Id = Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")]
Line = Annotated[str, Field(min_length=1, max_length=120, strict=True)]
Money = Annotated[float, Field(ge=0, le=1e7, strict=True, allow_inf_nan=False)]
Version = Annotated[int, Field(ge=1, le=10**9, strict=True)]
Step = Annotated[int, Field(ge=1, le=10**9)]
Days = Annotated[int, Field(ge=0, le=36_500)]  # a hundred years


def _of_the_calendar(day: str) -> str:
    try:
        date.fromisoformat(day)
    except ValueError:
        raise ValueError(f"{day} is no day of the calendar") from None
    return day


Day = Annotated[
    str,
    Field(pattern=r"^(19|20)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$"),
    AfterValidator(_of_the_calendar),
]
MOST_FIELDS = 40
Datum = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f\x7f]+$")]


class Body(BaseModel):
    """A request: unknown fields are refused, so that a slip of the pen is seen."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _is_bounded(cls, data: Any) -> Any:
        """No request has more than a few dozen fields: more of them are not looked at one by one."""
        if isinstance(data, dict) and len(data) > MOST_FIELDS:
            raise ValueError(f"has more than {MOST_FIELDS} fields")
        return data


class ErrorAnswer(BaseModel):
    """Every refusal, as RFC 9457 has it, with the problems of single fields and the version that another
    window has saved.
    """

    type: str
    title: str
    status: int
    detail: str
    code: str  # of a refusal by the data file its cause, see store/trouble.py
    problems: list[Problem]
    current_version: int | None


class MachineBody(Body):
    name: Line
    note: Annotated[str, Field(max_length=2000, strict=True)] = ""


class RenameBody(MachineBody):
    base_version: Version


class PlanBody(Body):
    """What of a machine is beside its axes, on top of a version."""

    base_version: Version
    plan: MachinePlan


class TickBody(Body):
    """A step of a machine ("axis:step", ":step" for one of its own), the day on which it was done (empty: it
    is not), and how what it rests on stood then.
    """

    ref: Ref
    day: MaybeDay = ""
    stood: Annotated[dict[str, Annotated[str, Field(max_length=80)]], Field(max_length=40)] = {}


class NewAxisBody(Body):
    """A new axis from a name; the layout's defaults are filled in. `aims` are numbers that the layout asks
    for, by their paths; lengths follow them.
    """

    name: Line
    layout: Annotated[str, Field(max_length=40, strict=True)] = "carriage_loop"
    aims: Annotated[
        dict[Annotated[str, Field(max_length=80)], Annotated[float, Field(allow_inf_nan=False, strict=True)]],
        Field(max_length=20),
    ] = {}


class SaveBody(Body):
    base_version: Version
    design: AxisDesign
    why: Annotated[str, Field(max_length=200, strict=True)] = ""


class RestoreBody(Body):
    base_version: Version
    number: Version


class ChangeBody(Body):
    design: AxisDesign


class LongLine(BaseModel):
    """One line of long work: how much is done; each kind has its answer, which comes at the end."""

    done: float
    place: int = 0  # how many must end before it begins
    failed: str | None = None


class ChangeLine(LongLine):
    answer: Changes | None = None


class WaysLine(LongLine):
    answer: WaysAnswer | None = None


class ReachesLine(LongLine):
    answer: Reaches | None = None


class ProposalsLine(LongLine):
    answer: Proposals | None = None


class EditLine(BaseModel):
    """One line of what follows an edit: report and drawings, then the plan of the belts or why there is
    none.
    """

    report: Report | None = None
    drawings: tuple[Scene, ...] = ()
    plan: BeltPlan | None = None
    failed: str | None = None


class TakeBody(Body):
    """A row of the drawer and the part of the design that it is to be."""

    design: AxisDesign
    at: Annotated[str, Field(max_length=80, strict=True)]
    key: Annotated[str, Field(max_length=120, strict=True)]


class OpenBody(Body):
    design: AxisDesign
    keys: Annotated[
        list[Annotated[str, Field(max_length=80, strict=True)]], Field(min_length=1, max_length=20)
    ]


class TensionBody(Body):
    design: AxisDesign
    reading: Reading


class RunBody(Body):
    """The run that is plucked: which belt's, and how long."""

    design: AxisDesign
    of: Belt = ""
    span_mm: Measured


class ListenBody(Body):
    """A WAV or FLAC file as base64; with a run, only the pitches that it can have count."""

    sound: Annotated[str, Field(min_length=1, max_length=LARGEST_SENT, strict=True)]
    run: RunBody | None = None


class RippleBody(Body):
    """Spacings of a ripple along the travel, and the speed at which it was made where known."""

    design: AxisDesign
    spacings_mm: Annotated[list[Measured], Field(min_length=1, max_length=20)]
    speed_mm_s: Measured | None = None


class TrialBody(Body):
    design: AxisDesign
    reading: TrialReading


class SquareBody(Body):
    design: AxisDesign
    reading: SquareReading


class MovesBody(Body):
    design: AxisDesign
    wanted: Wanted


class CommandLine(BaseModel):
    """One command to type, and what it is for."""

    code: str
    says: str


class MovesAnswer(BaseModel):
    """Test moves: their steps, the commands, and the whole file."""

    program: Program
    lines: tuple[CommandLine, ...]
    text: str


class TeachBody(Body):
    design: AxisDesign
    readings: Annotated[list[Taught], Field(min_length=1, max_length=20)]


class CalibrateBody(Body):
    """Moves that were measured, and the tension that the belt has, where that was read."""

    design: AxisDesign
    reading: MovesReading


class LogBody(Body):
    on_date: Day
    kind: LogKind = "note"
    says: Annotated[str, Field(max_length=4000, strict=True)] = ""
    cost: Money | None = None
    reading: AnyReading | None = None


class StockBody(Body):
    base_version: Annotated[int, Field(ge=0, le=10**9, strict=True)]
    quantity: Annotated[int, Field(ge=0, le=10**6, strict=True)]
    price: Money | None = None


class KeysBody(Body):
    """Rows of the drawer by their keys."""

    keys: Annotated[
        list[Annotated[str, Field(max_length=120, strict=True)]], Field(min_length=1, max_length=MOST_ROWS)
    ]


class CopyBody(Body):
    """A copy beside the data file, by its name."""

    name: Annotated[str, Field(min_length=1, max_length=200, strict=True)]


class ThinBody(Body):
    days: Days


class OwnPartBody(Body):
    kind: Annotated[str, Field(pattern=r"^[a-z_ ]{1,40}$")]
    name: Line
    data: Annotated[
        dict[
            Datum,
            Annotated[str, Field(max_length=300)]
            | Annotated[float, Field(allow_inf_nan=False)]
            | int
            | bool
            | None,
        ],
        Field(max_length=40),
    ]
    quantity: Annotated[int, Field(ge=0, le=10**6, strict=True)] = 1
    price: Money | None = None
    source_kind: SourceKind = "your entry"
    source: Annotated[str, Field(max_length=300, strict=True)] = ""


class UnknownBody(Body):
    """What can be seen and measured on a motor of unknown make."""

    frame: Annotated[str, Field(max_length=20, strict=True)]
    length_mm: Annotated[float, Field(gt=0, le=1000, strict=True, allow_inf_nan=False)]
    coil_ohm: Annotated[float, Field(gt=0, le=1000, strict=True, allow_inf_nan=False)]
    wires: Annotated[int, Field(ge=1, le=20, strict=True)] = 4
    shaft_mm: Annotated[float, Field(ge=1, le=100, strict=True, allow_inf_nan=False)] = 5.0


class WhichBeltBody(Body):
    """What was measured and seen on a piece of belt."""

    over_mm: Annotated[float, Field(gt=0, le=10_000, strict=True, allow_inf_nan=False)]
    pitches: Annotated[int, Field(ge=1, le=500, strict=True)] = 10
    form: ToothForm | None = None


SHEETS = "sheets"


class OutBody(Body):
    """What to take out: `cut` for the cut list, or a drawing named in the belt plan."""

    design: AxisDesign
    what: Annotated[str, Field(max_length=80, strict=True)]
    form: Annotated[
        str | None,
        Field(
            max_length=20,
            description="One of the formats of /start, or sheets; left out, the first that fits.",
        ),
    ] = None
    paper: Literal["A4", "letter"] = "A4"


class OutAnswer(BaseModel):
    name: str
    media: str
    files: list[str]


class FileBody(Body):
    text: Annotated[str, Field(max_length=2_000_000, strict=True)]


class SearchBody(Body):
    design: AxisDesign
    scope: Scope = "anything"
    reductions: Annotated[list[Reduction], Field(min_length=1, max_length=4)] = list(PLAIN)


class SearchLine(LongLine):
    answer: SearchAnswer | None = None


class OptionsBody(Body):
    design: AxisDesign
    scope: Scope = "anything"


class WhyBody(Body):
    """A combination by the names of its parts; up to two stages from the motor to the end."""

    design: AxisDesign
    motor: Annotated[str, Field(max_length=300, strict=True)]
    stages: Annotated[list[Annotated[str, Field(max_length=300, strict=True)]], Field(max_length=2)] = []
    belt: Annotated[str, Field(max_length=300, strict=True)]
    microsteps: Annotated[int, Field(ge=1, le=256, strict=True)] = 16
    scope: Scope = "anything"


class CutBody(Body):
    key: Annotated[str, Field(max_length=120, strict=True)]
    length_mm: Annotated[float, Field(gt=0, le=1e6, strict=True, allow_inf_nan=False)]


class Neighbour(BaseModel):
    id: str
    name: str


class RidesBody(Body):
    on: Id | None


class AxisAnswer(BaseModel):
    id: str
    name: str
    machine_id: str
    machine: str
    version: int
    saved_at: str
    design: AxisDesign | None  # None where the newest revision cannot be read
    problems: list[Problem]  # why it cannot be read, or what of its load cannot be counted
    rides_on: str | None
    may_ride_on: list[Neighbour]


class BackAnswer(BaseModel):
    """An axis that was put back, and what it rides on now."""

    rides_on: str | None


class MachineEntry(BaseModel):
    """An entry in the log of one of a machine's axes."""

    axis: str
    axis_name: str
    entry: LogEntry


class MachineAnswer(BaseModel):
    """A machine worked out, with its plan as it is stored; `comes` says by shop on which day a parcel comes
    that is ordered today, `unread` are axes that cannot be read. `log` are the newest entries of all its
    axes, `log_entries` how many there are, and `log_cost` what they cost together.
    """

    id: str
    name: str
    note: str
    version: int
    plan: MachinePlan
    report: MachineReport
    comes: dict[str, str]
    unread: list[str]
    log: list[MachineEntry]
    log_entries: int
    log_cost: float


class VersionAnswer(BaseModel):
    version: int


class StoreAnswer(BaseModel):
    """Whether the data file takes saves, and what can be done where it does not."""

    file: str
    cause: str | None
    says: str
    last_copy: str
    bytes: int
    revisions: int
    copies: list[str]  # that lie beside a data file without any machine, the newest first


class CountAnswer(BaseModel):
    count: int


class SavedAnswer(BaseModel):
    version: int
    saved_at: str


class IdAnswer(BaseModel):
    id: str


class AxisLine(BaseModel):
    """What the shelf shows of an axis as it is worked out."""

    name: str
    verdict: Literal[
        "holds", "tight", "short", "unknown", "no demand", "cannot be worked out", "cannot be read"
    ]
    in_words: str
    total: float | None
    spend: float | None
    about: bool  # whether its total holds typical prices
    typical: int
    unpriced: int
    currency: str
    scene: Scene | None


class ShelfAxis(AxisLine):
    id: str
    last_log: LogEntry | None


class MachineSums(BaseModel):
    """What all axes of a machine cost together: None where none is counted, or where they count in several
    currencies; `left_out` are axes that cannot be worked out, `about` says that typical prices are among it.
    """

    total: float | None
    spend: float | None
    about: bool
    unpriced: int
    left_out: int
    currency: str


class MachineLine(BaseModel):
    id: str
    name: str
    note: str
    version: int
    sums: MachineSums


class ShelfMachine(MachineLine):
    axes: list[ShelfAxis]


class UnitTable(BaseModel):
    base: str
    factors: dict[str, float]
    metric: str
    imperial: str
    pairs: dict[str, str]


class ProfileRow(BaseModel):
    key: str
    name: str
    standard: str
    pitch_mm: float
    widths_mm: list[float]
    min_teeth: int
    usual_cord: str
    working_tension_n_per_25_4mm: float | None
    sources: dict[str, tuple[str, str]]


class LayoutRow(BaseModel):
    """One layout to choose, with its moving drawing."""

    key: str
    name: str
    gives: str
    costs: str
    schools: str
    begin: dict[str, Any]
    asks: list[Ask]
    scene: Scene | None


class FormRow(BaseModel):
    """A format in which drawings or lists go out."""

    key: str
    name: str
    of: Literal["drawing", "list"]


class DrawerWords(BaseModel):
    """What kinds of parts the drawer has, by the words for many of them; and each datum's name and unit, the
    most telling first.
    """

    kinds: dict[str, str]
    data: dict[str, DatumWords]


class StartAnswer(BaseModel):
    """What a screen needs once: units, belt profiles, and the design's own description of its fields."""

    version: str
    units: dict[str, UnitTable]
    profiles: list[ProfileRow]
    design_schema: dict[str, Any]
    forms: list[FormRow]
    cut: str  # under which name the cut list goes out
    frames: dict[str, float]  # frames of motors, and the side of their flange in mm
    log_kinds: tuple[LogKind, ...]  # those that are written by hand
    drawer: DrawerWords
    takes: dict[
        str, str
    ]  # by the name of a part in the design's description: the kind of drawer row that goes there


__all__ = [
    "DrawerRow",
    "Formula",
    "Intake",
    "LogEntry",
    "Off",
    "Quantity",
    "Report",
    "Revision",
    "Thinned",
    "Turned",
]
