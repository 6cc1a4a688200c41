"""What an evaluation has found by the time that it asks the next part: typed, and set once each."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal

from ..fields.belts import Mount, Pulley
from ..fields.profile import Profile
from ..ledger.formula import Real
from ..ledger.quantity import Given, Quantity, Term
from ..ledger.record import record

Way = Literal["pluck", "push", "thumb", "scale"]
Phase = Literal["accelerate", "cruise", "push", "hold"]
PHASES: tuple[Phase, ...] = ("accelerate", "cruise", "push", "hold")
Phases = Mapping[Phase, Quantity]


@record
class Counts:
    """How many motors there are, each with a chain of its own, and how many belts of one kind."""

    motors: int = 1
    belts: int = 1


ONE_EACH = Counts()


@record
class Masses:
    """Masses at the moving point, kg.

    `tally` is what was counted, `lifted` what weighs on the guide, `total` what the belt accelerates and
    `driven` what the drive shaft accelerates.
    """

    tally: Quantity
    lifted: Quantity
    total: Quantity
    driven: Quantity


@record
class Loads:
    """Forces at the moving point, N, at their worst within the travel; `push` is what the head that is fitted
    pushes against, `worst` the largest of accelerating, pushing and holding, `accelerated` what accelerates
    what the belt moves.
    """

    masses: Masses
    slope: Quantity
    weight: Quantity
    drag: Quantity
    push: Given
    by_phase: Phases
    worst: Quantity
    accelerated: Quantity


@record
class Peaks:
    """What ringing makes of the forces, N: `whip` what accelerates what the belt moves, `peak` what one belt
    bears at most.
    """

    whip: Quantity
    peak: Quantity


@record
class OutputShaft:
    """The shaft that a stage offers to what comes next; `pulled` tells what already pulls sideways on it, N,
    once the peaks are known.
    """

    field: str
    diameter: Given
    form: str
    radial_limit: Quantity | Given
    pulled: Callable[[], Quantity] | None = None


@record
class Drive:
    """The chain worked out: turn per millimetre at the motor and at the end, torques, springs, play and
    losses.
    """

    lam_motor: Quantity
    lam_out: tuple[Quantity, ...]
    lam_in: tuple[Quantity, ...]
    torque_in: tuple[Phases, ...]
    worst_in: Mapping[str, Quantity]
    torque_end: Phases
    rotor_mass: Quantity
    torque_path: tuple[tuple[str, str, Quantity], ...]
    backlash: Quantity
    efficiency: Quantity
    efficiency_back: Term
    locks: Real

    @property
    def lam_end(self) -> Quantity:
        return self.lam_out[-1]


@record
class Stepping:
    """What a motor that knows its place commands: steps per millimetre, the smallest step in mm, and the
    speed at which its controller can give no more steps, with the field that decides it.
    """

    per_mm: Quantity
    step: Quantity
    microsteps: Given
    top: Quantity
    field: str


@record
class Pulled:
    """A mount that a belt pulls on: its design path, what it is called, and the load, N."""

    at: str
    name: str
    mount: Mount
    load_n: float | None


@record
class Seat:
    """A toothed pulley on a shaft: its design path and name, the shaft in mm with its form, the peak torque
    between them in N·m, and how far a bore out of true moves the belt, mm.
    """

    at: str
    name: str
    pulley: Pulley
    profile: Profile
    shaft_mm: float | None
    form: str
    torque_nm: float | None
    ripple_mm: float | None = None


@record
class Band:
    """The band of tension that a belt is set within, N, with the tension to aim for and that at which a
    shaft's bearing is at its limit; and what turns a reading of it into a tension. `name` is how it is
    called; `key` which of several of one part it is, empty where the part has one; `ways` those to read it
    that suit it, best first; `span_mm` the run to pluck; the wrap of an idler that a scale could draw at,
    where there is one; the tension of a turn of its screw, and how its tensioner is set; `per_k` by how much
    it rises for each kelvin; `apart` what a pair of them may differ by, and `why_apart` what more does.
    """

    name: str
    span_mm: float | None
    line_mass: Quantity
    ea: Quantity
    free: Quantity
    low: Quantity
    aim: Quantity
    high: Quantity
    advice: Quantity | None
    turn: Quantity | None
    set_by: str
    idler_wrap: Quantity | None
    bending: Quantity
    key: str = ""
    ways: tuple[Way, ...] = ("pluck", "push", "thumb")
    per_k: float = 0.0
    apart: Quantity | None = None
    why_apart: str = ""


@record
class Repeat:
    """What of a part comes again after so many millimetres of travel: what it is called, the field that
    decides it, and how to prove that a ripple is its.
    """

    name: str
    path: str
    spacing_mm: float
    prove: str


@record
class Kept:
    """A field of the design that takes a reading as measured: `times` of it and `plus` besides; of several
    places the mean, or the `worst`.
    """

    path: str
    times: float = 1.0
    plus: float = 0.0
    worst: bool = False


@record
class Trial:
    """What of a part is tried with a gauge, a scale or a watch: what it is called, the field that it is
    about, and how it is tried; its dimension and unit; what the design says that it reads, and the least and
    the most that are right; what to do where it reads less or more; where a reading can be kept; and the load
    that it goes with, which another design would ask otherwise.
    """

    key: str
    name: str
    path: str
    how: str
    dimension: str
    unit: str
    expected: float | None = None
    low: float | None = None
    high: float | None = None
    below: str = ""
    above: str = ""
    keeps: Kept | None = None
    load: float = 1.0


@record
class Unsure:
    """A number of the design that nobody knows well: its field, what it is called, what counts now, and the
    logarithm of how many times more or less it may well be; `also` what else is set with it.
    """

    path: str
    name: str
    value: float
    spread: float
    also: tuple[tuple[str, str], ...] = ()
