"""Takes a part of the drawer into a design: every datum of the old part is replaced, and those that the new
one does not state are cleared.

What belongs to the place and not to the thing (where a pulley sits, what an idler stands on, how a driver is
set) stays. What must follow follows: the pulley on another shaft, pulleys and idler under another belt. What
had to be assumed is said.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import BaseModel

from ..design.design import AxisDesign, changed
from ..fields.belts import Belt, Idler, Pulley, Roller
from ..fields.driver import Driver
from ..fields.part import Bought
from ..fields.profile import Profile
from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.rack import Rack
from ..parts.ends.screw import Screw
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.couplings import Coupler
from ..parts.stages.gearbox import Gearbox
from ..parts.stages.stepper import Stepper
from .drawer import Stock
from .parts import NAMELESS, Pulleys, bought, face_for, pulley_follows, pulley_on, stock_pulleys

# What may be taken where, and which fields of the part there belong to its place.
PLACES: dict[str, tuple[tuple[type[BaseModel], frozenset[str]], ...]] = {
    "stepper": ((Stepper, frozenset({"driver"})),),
    "gearbox": ((Gearbox, frozenset()),),
    "coupler": ((Coupler, frozenset({"radial_limit_n", "shaft_form"})),),
    "supply": (
        (Driver, frozenset({"current_a", "current_is", "microsteps", "idle_percent", "step_rate_limit_hz"})),
    ),
    "pulley": ((Pulley, frozenset({"overhang_mm", "seat_mm", "fixing"})),),
    "idler": (
        (
            Roller,
            frozenset(
                {"axle_mm", "plate_mm", "held", "seat_mm", "stack", "belt_on", "where", "x_mm", "y_mm"}
            ),
        ),
        (Idler, frozenset({"axle_mm", "plate_mm", "held", "seat_mm", "stack"})),
    ),
    "belt": ((Belt, frozenset()),),
    "closed belt": ((ClosedBelt, frozenset()),),
    "lead screw": ((Screw, frozenset()),),
    "rack": ((Rack, frozenset()),),
}
# Ends and closed belts are more than the thing that is taken: only these of their fields come with it.
OF_THE_THING = {
    "lead screw": ("screw", ("form", "diameter_mm", "pitch_mm", "starts", "friction", "backlash_mm")),
    "rack": ("rack", ("module_mm", "teeth", "face_mm", "material")),
}
TAKES = {model.__name__: kind for kind, models in PLACES.items() for model, _ in models}
BOUGHT = frozenset(Bought.model_fields)


@record
class Taken:
    """What taking a part sets, by path; what followed from it, what the part does not state and is assumed,
    and the paths of what it does state, which count as chosen.
    """

    changes: dict[str, Any]
    follows: tuple[str, ...]
    assumed: tuple[str, ...]
    chosen: tuple[str, ...]


def take(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], at: str, key: str
) -> Taken:
    """Take the row of a key to a path of the design; EntryError where it does not belong there or its data
    cannot be.
    """
    row = next((r for r in drawer if r.key == key), None)
    if row is None:
        raise EntryError(
            [
                problem(
                    "key", "is not in the drawer", value=key, remedy="Look again: it may have been taken out."
                )
            ]
        )
    part = _at(design, at)
    place = next((p for p in PLACES.get(row.kind, ()) if isinstance(part, p[0])), None)
    if place is None:
        raise EntryError(
            [problem("at", f"does not take a {row.kind}", value=at, remedy="Take it where such a part sits.")]
        )
    _fits_belt(design, at, part, row)
    states = {n for r in drawer if r.kind == row.kind for n in r.data}
    fields, assumed = _fields(part, place[1], row, states)
    chosen = tuple(f"{at}.{n}" for n in fields if n not in assumed)
    changes = {f"{at}.{n}": v for n, v in fields.items()}
    more, follows = _follows(design, profiles, stock_pulleys(drawer), at, row, fields)
    made = changed(design, changes | more).model_dump(mode="json")
    if assumed:
        _note(made, at, row, list(assumed.values()))
    return Taken(
        {path: _value(made, path) for path in changes | more}, tuple(follows), tuple(assumed.values()), chosen
    )


def _at(design: AxisDesign, path: str) -> Any:
    here: Any = design
    try:
        for name in path.split("."):
            here = here[int(name)] if isinstance(here, list) else getattr(here, name)
    except (AttributeError, IndexError, ValueError):
        return None
    return here


def _value(data: Any, path: str) -> Any:
    for name in path.split("."):
        data = data[int(name)] if isinstance(data, list) else data[name]
    return data


def _bought_at(row: Stock) -> str:
    """Where the name, price and source of a thing stand within the part at its place."""
    if row.kind == "closed belt":
        return "belt."
    return f"{OF_THE_THING[row.kind][0]}." if row.kind in OF_THE_THING else ""


def _fits_belt(design: AxisDesign, at: str, part: Any, row: Stock) -> None:
    """A toothed pulley or idler of another profile than the belt it carries."""
    if row.kind not in ("pulley", "idler") or row.data.get("kind") == "smooth" or not row.data.get("profile"):
        return
    holder = _at(design, at.partition(".")[0] if at.startswith("end") else ".".join(at.split(".")[:2]))
    belt = getattr(holder, "belt", None)
    if isinstance(belt, Belt) and belt.profile != row.data["profile"]:
        remedy = "Take one of the belt's own profile, or another belt first."
        raise EntryError(
            [
                problem(
                    at,
                    "has teeth of another profile than the belt",
                    value=row.data["profile"],
                    limit=belt.profile,
                    remedy=remedy,
                )
            ]
        )


def _given(row: Stock, name: str, kind: Any) -> Any:
    """A datum of a row, None where it states none; whole numbers of a CSV come as 20.0."""
    value = row.data.get(name)
    if value == "":
        return None
    return int(value) if kind is int and isinstance(value, float) and value.is_integer() else value


def _fields(
    part: Any, stays: frozenset[str], row: Stock, states: set[str]
) -> tuple[dict[str, Any], dict[str, str]]:
    """Fields of the new part, and of those that its kind usually states and it does not, the titles."""
    listed = type(part).model_fields
    out: dict[str, Any] = {}
    assumed: dict[str, str] = {}

    def put(into: str, model: Any, names: Sequence[str]) -> None:
        for name in names:
            info = model[name]
            value = _given(row, name, info.annotation)
            if value is None:
                value = info.get_default(call_default_factory=True)
                value = value.model_dump(mode="json") if isinstance(value, BaseModel) else value
                if value is not None and name in states:
                    assumed[f"{into}{name}"] = (info.title or name.replace("_", " ")).lower()
            out[f"{into}{name}"] = value

    if row.kind in OF_THE_THING:
        where, names = OF_THE_THING[row.kind]
        put("", listed, names)
        out |= {f"{where}.{n}": v for n, v in bought(row).items()}
    elif row.kind == "closed belt":
        put("", listed, ("belt_teeth",))
        put("belt.", Belt.model_fields, [n for n in Belt.model_fields if n not in BOUGHT])
        out |= {f"belt.{n}": v for n, v in bought(row).items()}
    else:
        put(
            "",
            listed,
            [n for n in listed if n not in stays | BOUGHT and (n != "kind" or row.kind == "idler")],
        )
        out |= bought(row)
        if row.kind == "belt":  # it is sold by the metre
            out |= {"price": None, "price_per_m": row.price}
    return out, assumed


def _note(made: dict[str, Any], at: str, row: Stock, assumed: list[str]) -> None:
    """What is assumed stands with the part's source, so that it is still seen tomorrow."""
    part = _value(made, f"{at}.{_bought_at(row)}source")
    part["note"] = "; ".join(x for x in (part["note"], "not stated, assumed: " + ", ".join(assumed)) if x)[
        :300
    ]


def on_shaft(
    design: AxisDesign, pulleys: Pulleys, chain: Sequence[Any], at: int, shaft_mm: float
) -> tuple[dict[str, Any], float | None]:
    """What follows from the shaft of the stage at a place of a chain: the next stage's pulley, or the end's;
    and what that costs.
    """
    if at + 1 == len(chain):
        end: Any = design.end
        return (
            follow("end.pulley", end.pulley, end.belt, pulleys, shaft_mm)
            if isinstance(end, BeltEnd)
            else ({}, 0.0)
        )
    following = chain[at + 1]
    if isinstance(following, dict):
        following = ClosedBelt.model_validate(following) if following["kind"] == "closed_belt" else None
    if not isinstance(following, ClosedBelt):
        return {}, 0.0
    return follow(f"chain.{at + 1}.driver", following.driver, following.belt, pulleys, shaft_mm)


def follow(
    at: str, pulley: Pulley, belt: Belt, pulleys: Pulleys, shaft_mm: float, width_mm: float | None = None
) -> tuple[dict[str, Any], float | None]:
    """What a pulley becomes on a shaft, under a belt of its profile, by path; and what that costs."""
    rows = pulleys.get(belt.profile, {}).get(pulley.teeth, [])
    fields, price = pulley_follows(pulley, rows, shaft_mm, belt.width_mm if width_mm is None else width_mm)
    return {f"{at}.{n}": v for n, v in fields.items()}, price


def _follows(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    pulleys: Pulleys,
    at: str,
    row: Stock,
    fields: dict[str, Any],
) -> tuple[dict[str, Any], list[str]]:
    """What else changes with the part, and sentences about it."""
    out: dict[str, Any] = {}
    if row.kind in ("stepper", "gearbox", "coupler"):
        place = int(at.split(".")[1])
        out, _ = on_shaft(design, pulleys, design.chain, place, fields["shaft_mm"])
        if row.kind == "stepper":
            out |= {f"{at}.driver.current_a": fields["rated_current_a"], f"{at}.driver.current_is": "rms"}
    elif row.kind in ("belt", "closed belt"):
        width, key = (
            fields["belt.width_mm" if row.kind == "closed belt" else "width_mm"],
            str(row.data.get("profile")),
        )
        profile = profiles.get(key)
        if profile is None:
            raise EntryError(
                [
                    problem(
                        at,
                        "is of a profile that is not known",
                        value=key,
                        remedy="Take a belt of a profile in About the numbers.",
                    )
                ]
            )
        holder: Any = design.end if row.kind == "belt" else _at(design, at)
        base, names = ("end", ("pulley",)) if row.kind == "belt" else (at, ("driver", "driven"))
        belt = holder.belt
        for name in names:
            pulley = getattr(holder, name)
            if belt.profile == profile.key:
                out |= follow(f"{base}.{name}", pulley, belt, pulleys, pulley.bore_mm, width)[0]
            else:
                out |= {
                    f"{base}.{name}.{n}": v
                    for n, v in _of_profile(pulley, profile, pulleys, belt, profiles, width).items()
                }
        idler = getattr(holder, "idler", None)
        if isinstance(idler, Idler):
            out |= {
                f"{base}.idler.{n}": v
                for n, v in idler_under(idler, profile, width, belt.profile != profile.key).items()
            }
    return out, [
        f"{_said(path)} follows: {value:g}"
        for path, value in out.items()
        if isinstance(value, (int, float)) and _told(path)
    ]


def _told(path: str) -> bool:
    return path.rpartition(".")[2] in ("bore_mm", "teeth", "face_mm", "width_mm", "current_a")


def _said(path: str) -> str:
    *_, part, name = path.split(".")
    return f"{part}'s {name.removesuffix('_mm').removesuffix('_a').replace('_', ' ')}"


def _of_profile(
    pulley: Pulley,
    profile: Profile,
    pulleys: Pulleys,
    belt: Belt,
    profiles: Mapping[str, Profile],
    width_mm: float,
) -> dict[str, Any]:
    """A pulley for a belt of another profile: of the stock's teeth nearest in circumference, else nameless
    with the same number of teeth.
    """
    old = profiles.get(belt.profile)
    wanted = pulley.teeth * (old.pitch_mm / profile.pitch_mm if old else 1.0)
    stock = {
        z: (rows, f)
        for z, rows in pulleys.get(profile.key, {}).items()
        if z >= profile.min_teeth and (f := face_for(rows, width_mm)) is not None
    }
    if stock:
        teeth = min(stock, key=lambda z: abs(z - wanted))
        return pulley_on(*stock[teeth], pulley.bore_mm).fields
    return {
        **NAMELESS,
        "teeth": max(profile.min_teeth, round(wanted)),
        "face_mm": max(pulley.face_mm, width_mm + 1),
    }


def idler_under(idler: Idler, profile: Profile, width_mm: float, other: bool) -> dict[str, Any]:
    """What an idler becomes under a belt: wide enough, with teeth enough; a row of the drawer that it no
    longer is loses its name.
    """
    teeth, width = (
        max(idler.teeth, profile.min_teeth),
        max(idler.width_mm, math.ceil(width_mm) + 1 if idler.width_mm < width_mm else 0),
    )
    if (teeth, width) == (idler.teeth, idler.width_mm) and not (other and idler.kind == "toothed"):
        return {}
    return {"teeth": teeth, "width_mm": width, **(NAMELESS if idler.drawer_key is not None else {})}
