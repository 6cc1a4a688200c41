"""A store in a folder of its own, closed after each test."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from crisp_cadence.store import Store


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    made = Store(tmp_path)
    yield made
    made.close()
