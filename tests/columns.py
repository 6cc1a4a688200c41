"""Columns against designs worked out one by one: random designs, random fields, random values."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Literal, get_args, get_origin

import numpy as np
from pydantic.fields import FieldInfo

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.verdicts import merged
from crisp_cadence.core.design.design import AxisDesign
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.columns import columns
from crisp_cadence.core.evaluation.evaluate import work_out
from crisp_cadence.core.fields.part import Part
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()
DESIGNS = {**demo.designs(), **{f"new {kind}": begin(kind, kind) for kind in LAYOUTS}}
KEPT = ("kind", "done", "made", "chosen", "measured")


def fields_of(part: Part, at: str = "") -> Iterator[tuple[str, FieldInfo, Any]]:
    """Every field of a design with its path, definition and value."""
    for name, info in type(part).model_fields.items():
        value = getattr(part, name)
        if name in KEPT:
            continue
        if isinstance(value, Part):
            yield from fields_of(value, f"{at}{name}.")
        elif isinstance(value, list):
            for i, item in enumerate(value):
                if isinstance(item, Part):
                    yield from fields_of(item, f"{at}{name}.{i}.")
        else:
            yield f"{at}{name}", info, value


def values_for(rng: random.Random, path: str, info: FieldInfo, value: Any, count: int) -> list[Any] | None:
    """Values near a field's own, within its limits; now and then none where it may be left empty."""
    if path.endswith("belt.profile"):
        return [rng.choice(list(PROFILES)) for _ in range(count)]
    kinds = [info.annotation, *get_args(info.annotation)]
    choices = next((get_args(k) for k in kinds if get_origin(k) is Literal), ())
    if choices:
        return [rng.choice(choices) for _ in range(count)] if len(choices) > 1 else None
    if not isinstance(info.json_schema_extra, dict) or "unit" not in info.json_schema_extra:
        return None
    low, high = (next((getattr(m, n) for m in info.metadata if hasattr(m, n)), 0.0) for n in ("ge", "le"))
    whole, optional = int in kinds, type(None) in kinds
    near = rng.choice([1.0, 10.0, 100.0]) if value is None else float(value)
    out: list[Any] = []
    for _ in range(count):
        if optional and rng.random() < 0.2:
            out.append(None)
            continue
        one = near * math.exp(rng.gauss(0, 0.3)) if near else rng.choice([0.0, 1.0, 5.0])
        one = min(max(one, low), high)
        out.append(round(one) if whole else one)
    return out


def one_by_one(design: AxisDesign) -> dict[str, float] | None:
    """Headroom of every rung that counts; none where the design cannot be built."""
    try:
        _, runs = work_out(design, PROFILES)
    except EntryError:
        return None
    ladder = runs[0].ladder if len(runs) == 1 else merged([(r.name, r.ladder) for r in runs])
    return {
        r.key: math.inf if r.verdict == "no demand" else math.nan if r.headroom is None else r.headroom
        for r in ladder
        if not r.advisory
    }


def alike(a: float, b: float) -> bool:
    if math.isnan(a) or math.isnan(b):
        return math.isnan(a) and math.isnan(b)
    return a == b or math.isclose(a, b, rel_tol=1e-9, abs_tol=1e-12)


@dataclass
class Seen:
    """What was compared, and what did not agree."""

    places: int = 0
    refused: int = 0
    rungs: int = 0
    fields: set[str] = field(default_factory=set)
    differ: list[str] = field(default_factory=list)


def agreement(trials: int, seed: int, layout: str = "") -> Seen:
    """Random columns of random designs against the same designs one by one, place by place."""
    rng, seen = random.Random(seed), Seen()
    names = [n for n in DESIGNS if layout in n]
    for _ in range(trials):
        name = rng.choice(names)
        listed = list(fields_of(DESIGNS[name]))
        rng.shuffle(listed)
        varied: dict[str, dict[str, list[Any]]] = {}
        for dimension, count in (("first", 3), ("second", 4)):
            own: dict[str, list[Any]] = {}
            wanted = rng.choice([1, 2, 4, 8])
            while len(own) < wanted and listed:
                path, info, value = listed.pop()
                made = values_for(rng, path, info, value, count)
                if made is not None:
                    own[path] = made
            varied[dimension] = own
            seen.fields.update(path.rpartition(".")[2] for path in own)
        _compare(name, varied, seen)
    return seen


def _compare(name: str, varied: dict[str, dict[str, list[Any]]], seen: Seen) -> None:
    found = columns(DESIGNS[name], PROFILES, varied)
    refused = np.broadcast_to(found.refused(), found.shape)
    heads = {key: np.broadcast_to(found.headroom(key), found.shape) for key in found.rungs}
    for place in np.ndindex(*found.shape):
        alone = one_by_one(found.at(place))
        seen.places += 1
        if alone is None or refused[place]:
            seen.refused += 1
            if (alone is None) != bool(refused[place]):
                seen.differ.append(
                    f"{name} {place} refused {bool(refused[place])} {found.why(place)} {varied}"
                )
            continue
        for key in alone.keys() | heads.keys():
            seen.rungs += 1
            a, b = alone.get(key, math.inf), float(heads[key][place]) if key in heads else math.inf
            if not alike(a, b):
                seen.differ.append(f"{name} {key} {a} {b} at {place} of {varied}")


if (
    __name__ == "__main__"
):  # `make torture`: a free seed, and as many designs as a quarter of an hour has room for
    seed = random.SystemRandom().randrange(10**9)
    found = agreement(2500, seed)
    print(
        f"columns, seed {seed}: {found.rungs} headrooms of {found.places} designs ({found.refused} refused, "
        f"{len(found.fields)} kinds of field) against one by one: {len(found.differ)} differ"
    )
    for line in found.differ[:20]:
        print("  ", line[:300])
    raise SystemExit(bool(found.differ))
