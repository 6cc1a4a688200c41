"""Once is once: what was done and what it was answered, by the key of the act.

A key is made by whoever presses the button. The act and its answer are kept in one transaction, so that an
act whose answer was lost is answered again and not done again.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta

from ..core.ledger.errors import EntryError, problem
from . import Store

KEPT = timedelta(days=30)  # how long an answer is remembered
MOST = 20_000  # answers remembered at once


def once(store: Store, key: str, of: str, now: str, act: Callable[[], str]) -> str:
    """Do an act, or answer as it was answered before under the same key; what it was refused with is not
    kept.

    `of` tells what is done with what: EntryError where the key was used for something else.
    """
    with store.transaction() as db:
        row = db.execute("SELECT of, answer FROM act WHERE key = ?", (key,)).fetchone()
        if row is not None and row["of"] != of:
            raise EntryError(
                [
                    problem(
                        "act-key",
                        "was used for another act",
                        value=key,
                        limit="a key of its own for each act",
                        remedy="Load the page anew and do it again.",
                    )
                ]
            )
        if row is not None:
            return str(row["answer"])
        answer = act()
        db.execute("INSERT INTO act (key, at, of, answer) VALUES (?, ?, ?, ?)", (key, now, of, answer))
        old = (datetime.fromisoformat(now) - KEPT).isoformat(timespec="milliseconds")
        db.execute("DELETE FROM act WHERE at < ?", (old,))
        db.execute("DELETE FROM act WHERE rowid <= (SELECT max(rowid) FROM act) - ?", (MOST,))
    return answer
