"""Files that go out, read back by general libraries and measured: lengths and radii to a micrometre, units
set.
"""

from __future__ import annotations

import csv
import io
import itertools
import math
import re
from typing import Any

import ezdxf
import pytest
from ezdxf import units
from svgelements import SVG, Circle, Path

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import design_from
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.frames import FRAMES
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.plan import plan_belts, plan_drawing
from crisp_cadence.core.geometry.figures import Drawing, clearance
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.exchange.dxf import dxf
from crisp_cadence.exchange.sheet import cut_list, safe
from crisp_cadence.exchange.svg import EDGE_MM, PAPERS_MM, pages, svg
from helpers import value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
MICRON = 1e-3  # mm


def mm_per_px(parsed: Any, declared_mm: str) -> float:
    """The library's own pixels for the width that the file declares; its constant for the millimetre is
    rounded to 5·10⁻⁷.
    """
    assert parsed.width == pytest.approx(float(declared_mm) * 96 / 25.4, rel=1e-6), (
        "CSS: 96 pixels to the inch"
    )
    return float(declared_mm) / float(parsed.width)


def changed(name: str, **end: Any) -> Any:
    data = DESIGNS[name].model_dump(mode="json")
    for path, new in end.items():
        here = data["end"]
        *way, last = path.split("__")
        for key in way:
            here = here[key]
        here[last] = new
    return design_from(data)


def with_roller() -> Any:
    roller = {
        "kind": "smooth",
        "diameter_mm": 20.0,
        "belt_on": "back",
        "where": "after the pulley",
        "x_mm": 300.0,
        "y_mm": -16.0,
        "label": "Presser",
    }
    return changed("seed-shuttle-aisle", rollers=[roller])


def drawn(design: Any, what: str = "path:end") -> Drawing:
    return plan_drawing(design, PROFILES, [], what)


def read_dxf(text: str) -> Any:
    return ezdxf.read(io.StringIO(text))


@pytest.mark.parametrize(
    ("design", "what", "belts"),
    [
        (DESIGNS["seed-shuttle-aisle"], "path:end", 1), (with_roller(), "path:end", 1), (DESIGNS["drying-shelves-probe"], "path:end", 1),
        (DESIGNS["clay-printer-head"], "path:end", 2), (DESIGNS["clay-printer-long-way"], "path:chain.1", 1), (DESIGNS["trimming-bench-potter-s-wheel"], "path:end", 2),
    ],
)  # fmt: skip
def test_dxf_path_measures_what_the_program_says(design: Any, what: str, belts: int) -> None:
    doc = read_dxf(dxf(drawn(design, what)))
    assert doc.units == units.MM
    assert doc.header["$INSUNITS"] == 4
    assert doc.header["$MEASUREMENT"] == 1
    space = doc.modelspace()
    lines = [e.dxf.start.distance(e.dxf.end) for e in space.query('LINE[layer=="BELT"]')]
    arcs = [
        math.radians((e.dxf.end_angle - e.dxf.start_angle) % 360) * e.dxf.radius
        for e in space.query('ARC[layer=="BELT"]')
    ]
    at = what.partition(":")[2]
    rows = [
        b
        for b in plan_belts(design, PROFILES, []).belts
        if b.at == at or (what == "path:end" and b.at.startswith("end"))
    ]
    assert len(rows) == belts
    assert math.fsum(lines) + math.fsum(arcs) == pytest.approx(
        math.fsum(b.length_mm for b in rows), abs=MICRON
    )
    radii = sorted(e.dxf.radius for e in space.query('CIRCLE[layer=="PITCH"]'))
    assert radii == pytest.approx(
        sorted(w.radius_mm for b in rows for w in b.wheels if w.radius_mm > 0), abs=MICRON
    )
    if what == "path:end" and belts == 1:
        assert math.fsum(lines) + math.fsum(arcs) == pytest.approx(
            value(evaluate(design, PROFILES), "belt.free"), abs=MICRON
        )


@pytest.mark.parametrize(
    "design", [DESIGNS["seed-shuttle-aisle"], with_roller(), DESIGNS["drying-shelves-probe"]]
)
def test_svg_path_measures_what_the_program_says(design: Any) -> None:
    text = svg(drawn(design))
    size = re.match(r'<svg [^>]*width="([\d.]+)mm" height="([\d.]+)mm" viewBox="([-\d. ]+)"', text)
    assert size, "size on paper is in millimetres"
    _, _, w, h = (float(x) for x in size[3].split())
    assert (w, h) == pytest.approx((float(size[1]), float(size[2]))), "one user unit is one millimetre"
    parsed = SVG.parse(io.StringIO(text), reify=True)
    px = mm_per_px(parsed, size[1])
    group = next(e for e in parsed.elements() if e.values.get("id") == "BELT")
    length = math.fsum(e.length(error=1e-9) for e in group.select(lambda e: isinstance(e, Path)))
    assert length * px == pytest.approx(plan_belts(design, PROFILES, []).belts[0].length_mm, abs=MICRON)
    circles = list(
        next(e for e in parsed.elements() if e.values.get("id") == "PITCH").select(
            lambda e: isinstance(e, Circle)
        )
    )
    assert sorted(c.rx * px for c in circles) == pytest.approx(
        sorted(x.radius_mm for x in plan_belts(design, PROFILES, []).belts[0].wheels if x.radius_mm > 0),
        abs=MICRON,
    )


def test_motor_plate_has_the_frame_s_bolt_square_and_the_mount_s_bolts() -> None:
    design = changed(
        "seed-shuttle-aisle",
        motor_mount={
            "kind": "plate",
            "material": "aluminium",
            "thickness_mm": 6.0,
            "width_mm": 80.0,
            "overhang_mm": 40.0,
            "bolts": 3,
        },
    )
    space = read_dxf(dxf(drawn(design, "plate:end.motor_mount"))).modelspace()
    frame = FRAMES["NEMA 23"]
    square, boss, screw = frame.bolts_mm, frame.boss_mm, frame.screw_mm
    holes = [
        (e.dxf.center.x, e.dxf.center.y, 2 * e.dxf.radius) for e in space.query('CIRCLE[layer=="HOLES"]')
    ]
    bolts = sorted(
        (x, y)
        for x, y, d in holes
        if d == pytest.approx(clearance(screw)) and abs(y) == pytest.approx(square / 2)
    )
    assert {(round(x * 2 / square, 9), round(y * 2 / square, 9)) for x, y in bolts} == {
        (-1, -1),
        (-1, 1),
        (1, -1),
        (1, 1),
    }
    assert any(d == pytest.approx(boss + 0.5) and (x, y) == (0, 0) for x, y, d in holes)
    assert sum(y < -square / 2 - 1 for _, y, _ in holes) == 3, "the bolts to the frame"


def test_a_motor_plate_that_tensions_has_slots_as_long_as_its_travel() -> None:
    design = changed(
        "seed-shuttle-aisle",
        motor_mount={"kind": "plate"},
        tensioner={"kind": "slotted motor plate", "travel_mm": 12.0},
    )
    space = read_dxf(dxf(drawn(design, "plate:end.motor_mount"))).modelspace()
    flats = list(space.query('LINE[layer=="HOLES"]'))
    assert len(flats) == 10, "four bolts and the boss, two flats each"
    assert {round(e.dxf.start.distance(e.dxf.end), 6) for e in flats} == {12.0}


def test_stack_is_drawn_piece_by_piece_to_scale() -> None:
    space = read_dxf(dxf(drawn(DESIGNS["seed-shuttle-aisle"], "stack:end.idler"))).modelspace()
    ys = sorted(
        {round(p.y, 6) for e in space.query('LINE[layer=="STACK"]') for p in (e.dxf.start, e.dxf.end)}
    )
    assert ys == [18.0, 28.0, 29.0, 39.0], "seat, spacer of 10, washer of 1, idler of 10 mm"
    line = list(space.query('LINE[layer=="CENTRES"]'))
    assert line[0].dxf.start.y == pytest.approx(34.0)


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_sheets_cover_the_drawing_at_full_size_with_a_ruler_of_100_mm(paper: str) -> None:
    sheets = pages(drawn(DESIGNS["seed-shuttle-aisle"]), paper)
    wide, tall = PAPERS_MM[paper]
    assert len(sheets) == math.ceil((1813 + 60) / (wide - 2 * EDGE_MM - 10)), (
        "a belt of 1.8 m lies over so many sheets"
    )
    for number, text in enumerate(sheets, start=1):
        assert f'width="{wide:g}mm" height="{tall:g}mm"' in text
        assert f"Sheet {number} of {len(sheets)}" in text
        parsed = SVG.parse(io.StringIO(text), reify=True)
        ruler = [
            e
            for e in parsed.elements()
            if isinstance(e, Path)
            and e.d().startswith("M ")
            and e.length() * mm_per_px(parsed, f"{wide:g}") == pytest.approx(100.0, abs=MICRON)
        ]
        assert ruler, "the ruler measures 100 mm"
    seen = [
        tuple(
            map(
                float,
                re.findall(
                    r'<svg x="[\d.]+" y="[\d.]+" width="([\d.]+)" height="[\d.]+" viewBox="([-\d.]+) ', t
                )[0],
            )
        )
        for t in sheets
    ]
    for (width, left), (_, following) in itertools.pairwise(seen):
        assert following == pytest.approx(left + width - 10.0), "neighbours overlap by 10 mm"


def test_cut_list_reads_back_with_both_units_and_the_roll() -> None:
    roll = Stock(
        "roll:x",
        "roll",
        "=Roll of 5 m",
        {"profile": "round-g-3", "width_mm": 9.0, "cord": "glass", "length_mm": 5000.0},
        1,
        None,
    )
    rows = list(
        csv.DictReader(io.StringIO(cut_list(plan_belts(DESIGNS["seed-shuttle-aisle"], PROFILES, [roll]))))
    )
    assert float(rows[0]["length mm"]) == 3699.0
    assert float(rows[0]["length in"]) == pytest.approx(3699.0 / 25.4, abs=1e-4)
    assert rows[1]["roll"] == "'=Roll of 5 m", "no cell runs as a formula"
    assert float(rows[1]["left on roll mm"]) == 1301.0
    bare = list(
        csv.DictReader(io.StringIO(cut_list(plan_belts(DESIGNS["seed-shuttle-aisle"], PROFILES, []))))
    )
    assert bare[1]["row"] == "no roll"
    assert "buy 3.70 m" in bare[1]["note"]


@pytest.mark.parametrize("text", ["=1", "+1", "-1", "@a", "\tx"])
def test_cells_that_look_like_formulas_are_quoted(text: str) -> None:
    assert safe(text) == f"'{text}"


def test_words_of_the_maker_are_escaped_in_svg() -> None:
    design = changed(
        "seed-shuttle-aisle", rollers=[{"label": '<b>&"', "x_mm": 300.0, "y_mm": -16.0, "diameter_mm": 20.0}]
    )
    text = svg(drawn(design))
    assert "<b>" not in text
    assert "&lt;b&gt;&amp;" in text


def test_a_drawing_that_is_not_there_is_refused_with_those_that_are() -> None:
    with pytest.raises(EntryError) as caught:
        drawn(DESIGNS["seed-shuttle-aisle"], "plate:end.motor_mount")
    assert caught.value.problems[0].limit == "path:end, plate:end.idler_mount, stack:end.idler"
    data = DESIGNS["seed-shuttle-aisle"].model_dump(mode="json")
    data["chain"][0]["frame"] = "other"
    data["end"]["motor_mount"]["kind"] = "plate"
    with pytest.raises(EntryError, match=r"chain\.0\.frame: is not known"):
        drawn(design_from(data), "plate:end.motor_mount")
