"""What the rows of a drawer cost as a rule, where the maker has no price for them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import partial

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..formulas import prices
from .drawer import Stock, number

METRE = 1000.0


class _LackingError(Exception):
    """A row that does not say what its price would follow from."""


def _of(row: Stock, name: str) -> float:
    found = number(row, name)
    if found is None:
        raise _LackingError
    return found


def typical_of(row: Stock, profiles: Mapping[str, Profile], length_mm: float = METRE) -> float | None:
    """What one of a row costs as a rule, € of 2026: a metre of an open belt, screws and racks of that length;
    None where its data do not tell.
    """
    of = partial(_of, row)

    def pitch() -> float:
        profile = profiles.get(str(row.data.get("profile")))
        if profile is None:
            raise _LackingError
        return profile.pitch_mm

    def belt() -> float:
        return float(prices.belt_price_m(of("width_mm"), pitch(), row.data.get("cord") != "glass"))

    ways: dict[str, Callable[[], float]] = {
        "stepper": lambda: prices.motor_price(of("hold_torque_nm")),
        "supply": lambda: prices.drive_price(of("supply_v")),
        "gearbox": lambda: prices.gearbox_price(
            of("torque_limit_nm"), number(row, "backlash_arcmin") or 30.0
        ),
        "pulley": lambda: prices.toothed_price(of("teeth"), pitch(), of("face_mm")),
        "idler": lambda: prices.IDLER,
        "belt": belt,
        "roll": lambda: belt() * of("length_mm") / METRE,
        "closed belt": lambda: prices.closed_belt_price(of("width_mm"), pitch(), of("belt_teeth")),
        "v belt": lambda: prices.v_belt_price(of("length_mm")),
        "coupler": lambda: prices.coupler_price(of("shaft_mm")),
        "lead screw": lambda: prices.screw_price(
            of("diameter_mm"), length_mm, row.data.get("form") == "ball"
        ),
        "rack": lambda: prices.rack_price(of("module_mm"), length_mm, row.data.get("material") == "steel"),
        "wheel": lambda: prices.pulley_price(of("diameter_mm"), prices.WHEEL_MM),
        "screw": lambda: prices.fastener_price(of("diameter_mm"), of("length_mm")),
        "set screw": lambda: prices.fastener_price(of("diameter_mm"), of("length_mm")),
        "washer": lambda: prices.WASHER,
        "spacer": lambda: prices.fastener_price(of("diameter_mm"), of("thickness_mm")),
    }
    try:
        return float(ways[row.kind]()) if row.kind in ways else None
    except _LackingError:
        return None


def with_typical(drawer: Sequence[Stock], profiles: Mapping[str, Profile], design: AxisDesign) -> list[Stock]:
    """The rows with what those without a price of the maker's own cost as a rule, in the design's currency;
    screws and racks as long as its rail.
    """
    factor, long = design.aim.price_factor, design.guide.rail_mm

    def priced(row: Stock) -> Stock:
        found = typical_of(row, profiles, long) if row.price is None else None
        return row if found is None else replace(row, typical=prices.rounded(found * factor))

    return [priced(row) for row in drawer]
