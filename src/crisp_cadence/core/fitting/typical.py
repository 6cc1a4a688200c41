"""What the rows of a drawer cost as a rule, where the maker has no price for them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..formulas import prices
from ..ledger.record import record
from .drawer import Stock, number
from .usable import usable

METRE = 1000.0


class _LackingError(Exception):
    """A row that does not say what its price would follow from."""


@record
class _Sized:
    """A row, as its price asks for it; `length_mm` is that of what is cut to length."""

    row: Stock
    profiles: Mapping[str, Profile]
    length_mm: float

    def of(self, name: str) -> float:
        found = number(self.row, name)
        if found is None:
            raise _LackingError
        return found

    def pitch(self) -> float:
        profile = self.profiles.get(str(self.row.data.get("profile")))
        if profile is None:
            raise _LackingError
        return profile.pitch_mm

    def says(self, name: str, word: str) -> bool:
        return bool(self.row.data.get(name) == word)


def _belt(r: _Sized) -> float:
    return float(prices.belt_price_m(r.of("width_mm"), r.pitch(), not r.says("cord", "glass")))


def _gearbox(r: _Sized) -> float:
    return float(prices.gearbox_price(r.of("torque_limit_nm"), number(r.row, "backlash_arcmin") or 30.0))


def _fastener(r: _Sized) -> float:
    return float(prices.fastener_price(r.of("diameter_mm"), r.of("length_mm")))


RULES: dict[str, Callable[[_Sized], float]] = {
    "stepper": lambda r: prices.motor_price(r.of("hold_torque_nm")),
    "supply": lambda r: prices.drive_price(r.of("supply_v")),
    "gearbox": _gearbox,
    "pulley": lambda r: prices.toothed_price(r.of("teeth"), r.pitch(), r.of("face_mm")),
    "idler": lambda _: prices.IDLER,
    "belt": _belt,
    "roll": lambda r: _belt(r) * r.of("length_mm") / METRE,
    "closed belt": lambda r: prices.closed_belt_price(r.of("width_mm"), r.pitch(), r.of("belt_teeth")),
    "v belt": lambda r: prices.v_belt_price(r.of("length_mm")),
    "coupler": lambda r: prices.coupler_price(r.of("shaft_mm")),
    "lead screw": lambda r: prices.screw_price(r.of("diameter_mm"), r.length_mm, r.says("form", "ball")),
    "rack": lambda r: prices.rack_price(r.of("module_mm"), r.length_mm, r.says("material", "steel")),
    "wheel": lambda r: prices.pulley_price(r.of("diameter_mm"), prices.WHEEL_MM),
    "screw": _fastener,
    "set screw": _fastener,
    "washer": lambda _: prices.WASHER,
    "spacer": lambda r: prices.fastener_price(r.of("diameter_mm"), r.of("thickness_mm")),
}


def typical_of(row: Stock, profiles: Mapping[str, Profile], length_mm: float = METRE) -> float | None:
    """What one of a row costs as a rule, € of 2026: a metre of an open belt, screws and racks of that length;
    None where its data do not tell.
    """
    rule = RULES.get(row.kind)
    try:
        return None if rule is None else float(rule(_Sized(row, profiles, length_mm)))
    except _LackingError:
        return None


def with_typical(drawer: Sequence[Stock], profiles: Mapping[str, Profile], design: AxisDesign) -> list[Stock]:
    """The rows that can be used (usable.py), with what those without a price of the maker's own cost as a
    rule, in the design's currency; screws and racks as long as its rail.
    """
    factor, long = design.aim.price_factor, design.guide.rail_mm

    def priced(row: Stock) -> Stock:
        found = typical_of(row, profiles, long) if row.price is None else None
        return row if found is None else replace(row, typical=prices.rounded(found * factor))

    return [priced(row) for row in usable(drawer)]
