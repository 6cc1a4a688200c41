"""The parts drawer as CSV: out with every datum, in with a look at what will change, row by row, and nothing
taken in half.
"""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal

from ..core.fitting.drawer import Stock, unsound
from ..core.fitting.usable import unused_since
from ..core.ledger.formula import SOURCE_KINDS
from ..core.ledger.record import record
from .sheet import safe, sheet

FIXED = ("key", "kind", "name", "quantity", "price", "source_kind", "source")
DATUM = "data."
MOST_ROWS = 20_000
MOST_COLUMNS = 60
MOST_CELLS = 200_000  # filled ones: a file of all rows and columns would take seconds to look through


@record
class Entry:
    """One row of a drawer file, read."""

    key: str
    kind: str
    name: str
    quantity: int
    price: float | None
    source_kind: str
    source: str
    data: dict[str, Any]


@record
class Trouble:
    """What is wrong with one row, and what to do."""

    row: int
    field: str
    message: str
    remedy: str


@record
class Change:
    """What one row would do."""

    row: int
    name: str
    what: Literal["new", "changed", "same"]
    says: str


@record
class Preview:
    """A file looked at: what would change, and what is wrong. Nothing is taken in while anything is wrong."""

    changes: tuple[Change, ...]
    troubles: tuple[Trouble, ...]
    new: int
    changed: int
    same: int


def drawer_csv(rows: Iterable[Any]) -> str:
    """Every row with every datum; columns that a row lacks stay empty."""
    listed = list(rows)
    fields = list(dict.fromkeys(name for r in listed for name in r.data))
    # A datum may be called like one of the first columns: the "kind" of an idler is not the kind of part.
    head = [f"{DATUM}{f}" if f in FIXED else f for f in fields]
    return sheet(
        [*FIXED, *head],
        (
            [
                r.key,
                r.kind,
                r.name,
                r.quantity,
                r.price,
                r.source_kind,
                r.source,
                *(r.data.get(f) for f in fields),
            ]
            for r in listed
        ),
    )


def read_drawer(text: str) -> tuple[list[tuple[int, Entry]], list[Trouble]]:
    """Rows of a file with their numbers as a spreadsheet counts them, and what is wrong with the others."""
    reader = csv.reader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
    troubles: list[Trouble] = []
    entries: list[tuple[int, Entry]] = []
    try:
        head = [_unquoted(h.strip()) for h in next(reader, [])]
        missing = [c for c in ("kind", "name", "quantity") if c not in head]
        if missing or len(head) > MOST_COLUMNS or len(set(head)) != len(head):
            says = (
                f"lacks the column{'s' if len(missing) > 1 else ''} {', '.join(missing)}"
                if missing
                else "has columns of the same name"
                if len(set(head)) != len(head)
                else f"has more than {MOST_COLUMNS} columns"
            )
            return [], [
                Trouble(
                    1,
                    "head",
                    f"the first row {says}: this is another kind of table",
                    f"It must name at least kind, name and quantity; export the drawer to see how "
                    f"({', '.join(FIXED)} and one column for each datum).",
                )
            ]
        filled = 0
        for number, cells in enumerate(reader, start=2):
            filled += sum(map(bool, cells))
            if number > MOST_ROWS + 1 or filled > MOST_CELLS:
                what = f"{MOST_ROWS} rows" if number > MOST_ROWS + 1 else f"{MOST_CELLS} filled cells"
                return [], [Trouble(number, "file", f"has more than {what}", "Split it into smaller files.")]
            if any(c.strip() for c in cells):
                entry = _read_row(
                    number, dict(zip(head, cells, strict=False)), len(cells) > len(head), troubles
                )
                if entry is not None:
                    entries.append((number, entry))
    except csv.Error as error:
        troubles.append(
            Trouble(
                reader.line_num,
                "file",
                f"cannot be read as CSV: {error}",
                "Save it again as CSV with commas and quotes.",
            )
        )
    seen: dict[tuple[str, str, str], int] = {}
    for number, entry in entries:
        known = seen.setdefault((entry.key, entry.kind, entry.name), number)
        if known != number:
            troubles.append(Trouble(number, "name", f"is the same part as row {known}", "Keep one of them."))
    return entries, sorted(troubles, key=lambda t: t.row)


def _read_row(number: int, cells: Mapping[str, str], too_long: bool, troubles: list[Trouble]) -> Entry | None:
    before = len(troubles)

    def wrong(field: str, message: str, remedy: str) -> None:
        troubles.append(Trouble(number, field, message, remedy))

    def text(field: str, longest: int) -> str:
        value = _unquoted(cells.get(field, "").strip())
        if len(value) > longest or not value.isprintable():
            wrong(
                field,
                f"is longer than {longest} characters, or holds characters that cannot be shown",
                "Shorten it.",
            )
        return value

    if too_long:
        wrong("row", "has more cells than the head has columns", "Quote cells that hold a comma.")
    kind, name = text("kind", 40), text("name", 120)
    for field, value in (("kind", kind), ("name", name)):
        if not value:
            wrong(field, "is empty", "Say what it is.")
    quantity = _number(cells.get("quantity", ""))
    if quantity is None or not quantity.is_integer() or not 0 <= quantity <= 1e6:
        wrong(
            "quantity",
            f"is not a whole number from 0 to 1000000: {cells.get('quantity', '')[:30]!r}",
            "Enter how many there are.",
        )
    price = _number(cells["price"]) if cells.get("price", "").strip() else None
    if cells.get("price", "").strip() and (price is None or not 0 <= price <= 1e7):
        wrong(
            "price",
            f"is not an amount: {cells['price'][:30]!r}",
            "Enter a number without a currency, or leave it empty.",
        )
    source_kind = text("source_kind", 40) or "your entry"
    if source_kind not in SOURCE_KINDS:
        wrong(
            "source_kind",
            f"is not a kind of source: {source_kind[:30]!r}",
            f"Take one of {', '.join(SOURCE_KINDS)}, or leave it empty.",
        )
    data: dict[str, Any] = {}
    for field in cells:
        value = cells[field].strip() if field not in FIXED else ""
        if value:
            found = _number(value)
            data[field.removeprefix(DATUM)] = (
                text(field, 120)
                if found is None
                else int(found)
                if found.is_integer() and "." not in value
                else found
            )
            if found is not None and abs(found) > 1e9:
                wrong(field, "is too large a number", "Check its unit.")
    for p in unsound(kind, data):
        wrong(p.field, p.message, p.remedy)
    if len(troubles) > before:
        return None
    return Entry(
        text("key", 120), kind, name, int(quantity or 0), price, source_kind, text("source", 300), data
    )


def _unquoted(cell: str) -> str:
    """A cell as it was before `safe` put a quote in front of it."""
    return cell[1:] if cell[:1] == "'" and safe(cell[1:]) != cell[1:] else cell


def _number(text: str) -> float | None:
    try:
        value = float(text.strip())
    except ValueError:
        return None
    return value if math.isfinite(value) else None


OWN_KEY = re.compile(r"own:[0-9a-f]{10}")


def preview(text: str, rows: Sequence[Any]) -> tuple[Preview, list[tuple[Entry, str]]]:
    """What a file would do to the drawer as it stands; with each entry the key of the row that it changes (""
    for a new one).
    """
    entries, troubles = read_drawer(text)
    by_key = {r.key: r for r in rows}
    by_name = {(r.kind, r.name): r for r in rows}
    changes, todo = [], []
    for number, e in entries:
        if e.key and e.key not in by_key and not OWN_KEY.fullmatch(e.key):
            troubles.append(
                Trouble(
                    number,
                    "key",
                    f"is not in this drawer: {e.key!r}",
                    "Leave the key empty for a part of your own.",
                )
            )
            continue
        known = by_key.get(e.key) if e.key else by_name.get((e.kind, e.name))
        if known is None:
            changes.append(
                Change(number, e.name, "new", f"{e.quantity} of a new {e.kind}{_unused(e, e.data)}")
            )
            todo.append(
                (e, e.key)
            )  # a row of one's own from another drawer keeps its key, so that it is known when it comes again
            continue
        if e.key and (known.kind != e.kind or known.name != e.name):
            troubles.append(
                Trouble(
                    number,
                    "name",
                    f"does not belong to its key: there it is {known.kind}, {known.name}",
                    "Leave the key empty for another part.",
                )
            )
            continue
        merged = {**known.data, **e.data}
        differs = [
            f"{n} {o if o is not None else '–'} → {v if v is not None else '–'}"
            for n, o, v in (("quantity", known.quantity, e.quantity), ("price", known.price, e.price))
            if o != v
        ]
        differs += ["back into the drawer"] if known.out else []
        differs += [
            f"{n} {known.data.get(n, '–')} → {v}"
            for n, v in merged.items()
            if not _same(known.data.get(n), v)
        ]
        changes.append(
            Change(number, e.name, "changed" if differs else "same", "; ".join(differs) + _unused(e, merged))
        )
        if differs:
            todo.append((e, known.key))
    count = {w: sum(c.what == w for c in changes) for w in ("new", "changed", "same")}
    shown = tuple(c for c in changes if c.what != "same")[:500]
    return Preview(
        shown,
        tuple(sorted(troubles, key=lambda t: t.row)[:200]),
        count["new"],
        count["changed"],
        count["same"],
    ), todo


def _unused(entry: Entry, data: dict[str, Any]) -> str:
    """Said before it is taken in, where no search will use it."""
    why = unused_since(Stock(entry.key, entry.kind, entry.name, data, entry.quantity, entry.price))
    return f"; no search will use it: {why}" if why else ""


def _same(old: Any, new: Any) -> bool:
    if isinstance(old, (int, float)) and isinstance(new, (int, float)) and not isinstance(old, bool):
        return abs(float(old) - float(new)) < 1e-9
    return old == new or (old in (None, "") and new in (None, "")) or str(old) == str(new)
