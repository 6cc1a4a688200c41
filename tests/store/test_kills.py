"""A few kills of each kind with a fixed seed; `make torture` makes hundreds, at times that nobody chose."""

from __future__ import annotations

import pytest
import torture


@pytest.mark.parametrize("kind", torture.KINDS)
def test_a_kill_loses_nothing_and_leaves_nothing_half_done(kind: str) -> None:
    row = torture.kills(kind, 5, seed=20261126)
    assert (row.lost, row.half, row.unsound) == (0, 0, 0), torture.table([row])
    assert row.in_the_middle >= 2, "a kill that comes when all is done tests nothing"


def test_the_count_sees_what_it_should(tmp_path: object, monkeypatch: pytest.MonkeyPatch) -> None:
    """A check that cannot fail is none: a program that acknowledges before it saves is caught."""
    from crisp_cadence.store import axes

    real = axes.save
    monkeypatch.setattr(
        axes,
        "save",
        lambda store, axis, base, design, now, why="": (
            base + 1 if design.note else real(store, axis, base, design, now, why)
        ),
    )
    with pytest.raises(Exception, match="This revision is not there"):
        torture.kills("saves", 3, seed=1)  # the first of them comes before a cold child has saved anything
