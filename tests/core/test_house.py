"""House rules that a test can hold: what public functions say of themselves, and which way imports point."""

from __future__ import annotations

import ast
import importlib
import importlib.metadata
import inspect
import re
import tomllib
from pathlib import Path

import pytest
from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

import crisp_cadence
from crisp_cadence import catalog
from crisp_cadence.core.ledger.formula import FORMULAS, read_docstring

ROOT = Path(crisp_cadence.__file__).parent
# Where formulas stand; everything else in the core gathers, orders and checks, and its numbers come out of
# these through the ledger.
FORMULA_MODULES = (
    *(f"formulas.{p.stem}" for p in sorted((ROOT / "core" / "formulas").glob("[a-z]*.py"))),
    "geometry.path",
    "geometry.cones",
    "ledger.units",
)
# The rooms of the core from the ground up: each leans on those before it, and no two modules on one another.
ROOMS = (
    "ledger",
    "formulas",
    "fields",
    "geometry",
    "account",
    "checks",
    "parts",
    "design",
    "building",
    "evaluation",
    "fitting",
    "choosing",
    "tuning",
    "machine",
)
LAYERS = {
    "core": 0,
    "catalog": 1,
    "store": 2,
    "exchange": 2,
    "practice": 2,
    "demo_layouts": 3,
    "demo": 4,
    "api": 5,
    "commands": 6,
    "cli": 7,
}
CORE_MAY_USE = {"numpy", "scipy", "pydantic", "pydantic_core", "crisp_cadence"}


def public_functions(module: str) -> list[tuple[str, object]]:
    found = importlib.import_module(f"crisp_cadence.core.{module}")
    return [
        (n, f)
        for n, f in vars(found).items()
        if inspect.isfunction(f) and f.__module__ == found.__name__ and not n.startswith("_")
    ]


@pytest.mark.parametrize("module", FORMULA_MODULES)
def test_public_functions_say_equation_units_range_source_and_example(module: str) -> None:
    functions = public_functions(module)
    assert functions
    for name, function in functions:
        doc = inspect.getdoc(function) or ""
        said = read_docstring(name, doc)
        assert all((said.equation, said.units, said.valid, said.source)), name
        assert ">>>" in doc, f"{name} shows no example"


def test_every_other_public_function_of_the_core_says_what_it_does() -> None:
    for path in (ROOT / "core").rglob("*.py"):
        for node in ast.parse(path.read_text(encoding="utf-8")).body:
            if isinstance(node, (ast.FunctionDef, ast.ClassDef)) and not node.name.startswith("_"):
                assert ast.get_docstring(node), f"{path.name}: {node.name}"


def test_numbers_of_a_report_come_from_formulas_or_state_their_equation() -> None:
    from conftest import build

    report = crisp_cadence.evaluate(build())
    registered = {f.equation for f in FORMULAS.values()}
    assert sum(q.equation in registered for q in report.results) > 60
    for q in report.results:
        assert q.equation, q.key
        assert q.source_kind, q.key
        assert q.source, q.key
        assert q.inputs, q.key


def test_a_docstring_that_lacks_a_line_is_refused() -> None:
    with pytest.raises(ValueError, match="lacks Range, Source"):
        read_docstring("f", "Title.\n\nEquation: a = b\nUnits: mm → mm")
    with pytest.raises(ValueError, match="source must read"):
        read_docstring("f", "Title.\n\nEquation: a = b\nUnits: mm → mm\nRange: any\nSource: somewhere")


def modules() -> list[Path]:
    return sorted(p for p in ROOT.rglob("*.py") if "web" not in p.relative_to(ROOT).parts)


def imported(path: Path) -> set[str]:
    """Names of modules that a file imports, relative ones made absolute."""
    package = ["crisp_cadence", *path.relative_to(ROOT).parts[:-1]]
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {a.name for a in node.names}
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else []
            name = ".".join([*base, *([node.module] if node.module else [])])
            found |= {f"{name}.{a.name}" for a in node.names} | {name}
    return found


@pytest.mark.parametrize("path", modules(), ids=lambda p: str(p.relative_to(ROOT)))
def test_imports_point_one_way(path: Path) -> None:
    layer = path.relative_to(ROOT).parts[0].removesuffix(".py")
    if layer == "__init__":
        return
    for name in imported(path):
        parts = name.split(".")
        if parts[0] == "crisp_cadence" and len(parts) > 1 and parts[1] in LAYERS and parts[1] != layer:
            assert LAYERS[parts[1]] < LAYERS[layer], f"{layer} must not import {parts[1]}"
        if layer == "core" and parts[0] not in CORE_MAY_USE:
            import sys

            assert parts[0] in sys.stdlib_module_names, f"the core must not import {parts[0]}"
            assert parts[0] not in {
                "sqlite3",
                "socket",
                "urllib",
                "http",
                "time",
                "datetime",
                "pathlib",
                "os",
            }, f"the core must not import {parts[0]}"


def in_core(path: Path) -> str:
    return ".".join(path.relative_to(ROOT / "core").with_suffix("").parts).removesuffix(".__init__")


CORE = {in_core(p): p for p in modules() if "core" in p.relative_to(ROOT).parts}


def leans_on(module: str) -> set[str]:
    """Modules of the core that one of them imports; a package counts only where it is named itself."""
    names = {n.removeprefix("crisp_cadence.core.") for n in imported(CORE[module])}
    return {n for n in names if n in CORE and n != module and not n.endswith("__init__")}


@pytest.mark.parametrize("module", sorted(m for m in CORE if m != "__init__"))
def test_rooms_of_the_core_lean_on_those_below(module: str) -> None:
    room = module.split(".", maxsplit=1)[0]
    for other in leans_on(module):
        assert ROOMS.index(other.split(".")[0]) <= ROOMS.index(room), f"{module} must not import {other}"


def circles(arrows: dict[str, set[str]]) -> list[str]:
    """What is left when everything that leans on nothing more has been taken away, again and again."""
    left = {m: set(others) for m, others in arrows.items()}
    while free := {m for m, others in left.items() if not others & left.keys()}:
        left = {m: others for m, others in left.items() if m not in free}
    return sorted(left)


def test_no_two_modules_of_the_core_lean_on_one_another() -> None:
    assert circles({m: {o for o in leans_on(m) if CORE[o].name != "__init__.py"} for m in CORE}) == []
    assert circles({"a": {"b"}, "b": {"c"}, "c": {"b"}, "d": set()}) == ["a", "b", "c"], "it can fail"


KEYED = {
    "account.cases",  # takes what is set once over every case, by its key
    "account.report",  # hands results out by key to whoever reads a report
    "building.misfits",  # what was made is kept in the design by the key of its number
    "evaluation.columns",  # hands them out by key, as the report does
    "evaluation.evaluate",
    "fitting.plan",
}


@pytest.mark.parametrize("module", sorted(m for m in CORE if m.split(".")[0] != "ledger"))
def test_no_part_reads_another_parts_results_by_key(module: str) -> None:
    """What parts hand to one another is typed: the contracts of stages and ends, and `account/found.py`."""
    text = CORE[module].read_text(encoding="utf-8")
    assert ("book.results" in text or ".results[" in text) <= (module in KEYED), module
    assert "memo" not in re.findall(r"\.(\w+)", text), module


def test_the_import_walk_sees_what_it_should() -> None:
    """A check that cannot fail is none: the walk must see known arrows, also those inside functions."""
    assert "crisp_cadence.store" in imported(ROOT / "api" / "routes" / "shelf.py")
    assert "crisp_cadence.api.app.make_app" in imported(ROOT / "commands.py")


def test_every_catalogue_row_has_its_source_and_no_price() -> None:
    rows = catalog.parts().values()
    assert {r.kind for r in rows} >= {
        "stepper",
        "gearbox",
        "pulley",
        "idler",
        "belt",
        "wheel",
        "screw",
        "washer",
    }
    for row in rows:
        assert all((row.source_kind, row.source)), row.key
        assert "price" not in row.data, row.key
    for profile in catalog.profiles().values():
        for datum in (
            "pitch_mm",
            "pitch_line_mm",
            "tooth_height_mm",
            "thickness_mm",
            "widths_mm",
            "min_teeth",
            "mass_g_m_mm",
            "ea_glass_n_per_mm",
        ):
            kind, note = profile.sources[datum]
            assert all((kind, note)), (profile.key, datum)


def test_catalogue_rows_fill_only_fields_that_a_design_has() -> None:
    """A part taken from the drawer must be readable as part of a design."""
    from conftest import build

    for row in catalog.parts().values():
        if row.kind == "stepper":
            build(chain=[{"kind": "stepper", **row.data}])
        elif row.kind == "gearbox":
            build(chain=[{"kind": "stepper"}, {"kind": "gearbox", **row.data}])
        elif row.kind in ("belt", "pulley"):
            design = build(
                **{
                    f"end__{row.kind}__{k}": v
                    for k, v in row.data.items()
                    if k != "profile" or row.kind == "belt"
                }
            )
            assert not getattr(design.end, row.kind).model_extra


@pytest.mark.parametrize("name", ["numbers.md", "axis.schema.json", "machine.schema.json"])
def test_docs_say_what_the_core_says(name: str) -> None:
    from docs import DOCS, FILES

    assert DOCS.joinpath(name).read_text(encoding="utf-8") == FILES[name](), "run make docs"


REPOSITORY = ROOT.parents[1]
LOCKS = ("requirements-build.lock", "requirements.lock", "requirements-dev.lock")


def locked(name: str) -> dict[str, str]:
    """Packages of a lock file with their versions, names as the index spells them alike."""
    found = re.findall(
        r"^([A-Za-z0-9._-]+)==([^\s;]+)",
        REPOSITORY.joinpath(name).read_text(encoding="utf-8"),
        flags=re.MULTILINE,
    )
    return {canonicalize_name(package): version for package, version in found}


def test_every_requirement_is_met_by_its_lock() -> None:
    project = tomllib.loads(REPOSITORY.joinpath("pyproject.toml").read_text(encoding="utf-8"))
    asked = {
        "requirements.lock": project["project"]["dependencies"],
        "requirements-dev.lock": [
            *project["project"]["dependencies"],
            *project["project"]["optional-dependencies"]["dev"],
        ],
        "requirements-build.lock": project["build-system"]["requires"],
    }
    for name, requirements in asked.items():
        versions = locked(name)
        for text in requirements:
            wanted = Requirement(text)
            assert wanted.specifier.contains(versions[canonicalize_name(wanted.name)]), f"{name}: {text}"
    runtime, everything = locked("requirements.lock"), locked("requirements-dev.lock")
    assert runtime.items() <= everything.items(), "tests run on what makers run"
    assert not {"pytest", "hypothesis", "ruff", "mypy", "playwright"} & runtime.keys()


@pytest.mark.parametrize("name", LOCKS)
def test_every_locked_package_has_its_hashes(name: str) -> None:
    for entry in re.split(r"\n(?=\S)", REPOSITORY.joinpath(name).read_text(encoding="utf-8").strip()):
        assert re.search(r"--hash=sha256:[0-9a-f]{64}", entry), entry[:60]


def test_every_installed_package_stands_in_a_lock_at_its_version() -> None:
    known = {k: v for name in LOCKS for k, v in locked(name).items()}
    tools = {
        "pip",
        "setuptools",
        "wheel",
        "crisp-cadence",
    }  # what a new environment comes with, and this program
    installed = {canonicalize_name(d.metadata["Name"]): d.version for d in importlib.metadata.distributions()}
    assert {k: v for k, v in installed.items() if k not in tools and known.get(k) != v} == {}


def test_the_install_requires_the_hashes_of_the_build_too() -> None:
    makefile = REPOSITORY.joinpath("Makefile").read_text(encoding="utf-8")
    assert "pip install -q --require-hashes" in makefile
    assert "--no-build-isolation" in makefile
    assert all(name in makefile for name in LOCKS)


TABLE_FILES = {"demo.py", "demo_layouts.py", "layouts.py"}  # nothing but data


def tables_in(text: str) -> set[int]:
    """Lines of the tables of data whose layout is kept: constants at the top of a module."""
    lines = text.split("\n")
    found: set[int] = set()
    for node in ast.parse(text).body:
        if isinstance(node, (ast.Assign, ast.AnnAssign)):
            target = node.targets[0] if isinstance(node, ast.Assign) else node.target
            last = node.end_lineno or node.lineno
            if (
                isinstance(target, ast.Name)
                and target.id.isupper()
                and lines[last - 1].endswith("# fmt: skip")
            ):
                found |= set(range(node.lineno, last + 1))
    return found


def test_lines_can_be_read_aloud() -> None:
    """At most 110 characters; tables of data and examples in docstrings may be wider. The formatter is off
    for tables alone.
    """
    for path in [*ROOT.rglob("*.py"), *(ROOT.parents[1] / "tools").rglob("*.py")]:
        if path.name in TABLE_FILES:
            continue
        text = path.read_text(encoding="utf-8")
        tables = tables_in(text)
        for number, line in enumerate(text.split("\n"), start=1):
            if number not in tables:
                assert len(line) <= 110 or line.lstrip().startswith(">>>"), (
                    f"{path.name}:{number}: {line.strip()[:60]}"
                )
                assert not line.endswith("# fmt: skip"), f"{path.name}:{number} is no table"
