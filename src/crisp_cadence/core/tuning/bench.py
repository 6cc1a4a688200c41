"""Everything that is measured on one axis once it stands: its belts, its trials, what it is calibrated in,
how its beam is squared, which test moves it can make.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..account.found import Trial
from ..checks import friction
from ..design.design import AxisDesign
from ..evaluation.evaluate import work_out
from ..fields.profile import Profile
from ..formulas.guides import preload_drag
from .calibrating import Scale, scale_of
from .moves import Kind, kinds
from .preload import places
from .reading import BeltToRead, belts_of
from .squaring import Squaring, squaring_of
from .teaching import TELLING
from .trials import trials_of


@dataclass(frozen=True, slots=True)
class Bench:
    """What an axis has to be measured; what it has not is not there. `telling` are the trials whose readings
    tell which part is other than the design says, `preload_drag_n` what the wheels' preload adds to the drag.
    """

    belts: tuple[BeltToRead, ...]
    trials: tuple[Trial, ...]
    scale: Scale | None
    square: Squaring | None
    moves: tuple[Kind, ...]
    telling: tuple[str, ...]
    wheels: tuple[str, ...]
    preload_drag_n: float | None


def bench(design: AxisDesign, profiles: Mapping[str, Profile]) -> Bench:
    """Belts, trials and scale of one axis, from one evaluation."""
    run, _ = work_out(design, profiles)
    trials = trials_of(run)
    telling = tuple(t.key for t in trials if t.key in TELLING)
    on_wheels = design.guide.kind == "wheels" and run.end.guided
    wheels = places(design.stand.wheels) if on_wheels else ()
    rolls, stand = friction.of_guide(run.ctx, "guide.friction").value, design.stand
    drag = None if not wheels or rolls is None else float(preload_drag(rolls, stand.preload_n, stand.wheels))
    return Bench(belts_of(run), trials, scale_of(run), squaring_of(run), kinds(run), telling, wheels, drag)
