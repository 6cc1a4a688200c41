"""What of the validation comes from outside the project, counted from the docstrings of its tests.

Each test here says `Outside: n; kind: source`, n independent numbers that do not come from the project:
`published` in a standard, a table or a text, worked out by a general `library` that shares no code with it,
found by `brute force`, or a fact of the `practice` of the trade without a source. Deriving a formula once
more by another way is no number from outside: that stands in `tests/core/test_derived.py`.
"""

from __future__ import annotations

import ast
import re
from collections import Counter
from pathlib import Path

import pytest

KINDS = ("published", "library", "brute force", "practice")
LINE = re.compile(r"^Outside: (\d+); (published|library|brute force|practice)(?:: (.+))?$")


def said() -> list[tuple[str, int, str, str]]:
    """Test, numbers, kind and source of every test of this folder."""
    found = []
    for path in sorted(Path(__file__).parent.glob("test_*.py")):
        if path == Path(__file__):
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef) and node.name.startswith("test"):
                doc = ast.get_docstring(node) or ""
                text = " ".join(doc[doc.rfind("Outside:") :].split()) if "Outside:" in doc else ""
                match = LINE.match(text)
                assert match, f"{path.name}: {node.name} does not say what of it comes from outside"
                number, kind, source = match.groups()
                assert (kind in ("published", "library")) == bool(source), f"{path.name}: {node.name}"
                found.append((f"{path.stem}.{node.name}", int(number), kind, source or ""))
    return found


def named(source: str) -> str:
    """The work itself, without what of it is meant and whence it is known."""
    return re.split(r"[,;]| \(from memory\)", source)[0]


def test_enough_comes_from_outside(capsys: pytest.CaptureFixture[str]) -> None:
    rows = said()
    kinds: Counter[str] = Counter()
    works: dict[str, Counter[str]] = {kind: Counter() for kind in KINDS}
    for _, number, kind, source in rows:
        kinds[kind] += number
        works[kind][named(source)] += number
    with capsys.disabled():
        print("\nNumbers from outside the project, by kind and source:")
        for kind in KINDS:
            print(f"  {kinds[kind]:4d}  {kind}")
            for work, number in works[kind].most_common():
                if work:
                    print(f"        {number:4d}  {work}")
        print(f"  {kinds.total():4d}  in all, in {len(rows)} tests")
    assert kinds.total() >= 150
    assert kinds["library"] >= 60
    assert len(works["published"]) >= 12
