"""The starter catalogue: belt profiles and generic parts as data files; every row carries its source."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from types import MappingProxyType
from typing import Any

from ..core.fields.profile import Profile
from ..core.fitting.drawer import Stock
from ..core.ledger.formula import SOURCE_KINDS


@dataclass(frozen=True, slots=True)
class PartRow:
    """One generic part: what it is, the design fields that it fills, and where its data come from."""

    key: str
    kind: str
    name: str
    data: dict[str, Any]
    source_kind: str
    source: str


def _read(name: str) -> Any:
    return json.loads(files(__package__).joinpath(name).read_text(encoding="utf-8"))


@lru_cache(maxsize=1)
def profiles() -> Mapping[str, Profile]:
    """Belt profiles by key."""
    rows = _read("profiles.json")
    return MappingProxyType(
        {
            r["key"]: Profile(
                **{
                    **r,
                    "widths_mm": tuple(r["widths_mm"]),
                    "sources": {k: (v[0], v[1]) for k, v in r["sources"].items()},
                }
            )
            for r in rows
        }
    )


@lru_cache(maxsize=1)
def parts() -> Mapping[str, PartRow]:
    """Generic parts by key; keys are made from kind and name and stay the same from version to version."""
    out: dict[str, PartRow] = {}
    for family in _read("parts.json"):
        kind, note = family["source"]
        assert kind in SOURCE_KINDS, kind
        for row in family["rows"]:
            data = dict(zip(family["columns"], row, strict=True))
            name = data.pop("name")
            key = (
                family["kind"]
                + ":"
                + "-".join("".join(c if c.isalnum() or c == "." else " " for c in name.lower()).split())
            )
            assert key not in out, key
            out[key] = PartRow(key, family["kind"], name, data, kind, note)
    return MappingProxyType(out)


def stock() -> list[Stock]:
    """The catalogue as a drawer in which nothing lies and nothing has a price."""
    return [Stock(p.key, p.kind, p.name, p.data, 0, None, p.source_kind, p.source) for p in parts().values()]
