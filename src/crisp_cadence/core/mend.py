"""Ways out: single changes to a design, each tried in full, ranked by what they do to one rung and to the whole."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from .belt import Profile
from .design import AxisDesign, changed
from .errors import EntryError
from .evaluate import evaluate
from .report import Rung, Verdict

SUPPLIES_V = (12.0, 24.0, 36.0, 48.0, 60.0)
TEETH = (10, 12, 14, 15, 16, 18, 20, 22, 24, 28, 30, 32, 36, 40, 44, 48, 60, 72)
RATIOS = (3.0, 4.0, 5.0, 10.0)
_RANK: dict[Verdict, int] = {"holds": 0, "no demand": 0, "tight": 1, "unknown": 2, "short": 3}


@dataclass(frozen=True, slots=True)
class Mend:
    """One change, and the ladder before and after it."""

    says: str
    field: str
    before: str
    after: str
    changes: dict[str, Any]
    rung_before: float | None
    rung_after: float | None
    verdict_after: Verdict
    whole_after: Verdict
    whole_in_words: str


def ways_out(design: AxisDesign, profiles: Mapping[str, Profile], rung_key: str, most: int = 6) -> list[Mend]:
    """The single changes that help a rung, one of each kind, those that leave the whole axis best first."""
    before = _rung(evaluate(design, profiles).ladder, rung_key)
    best: dict[str, tuple[tuple[int, float], Mend]] = {}
    for says, field, was, becomes, changes in _single_changes(design, profiles):
        try:
            report = evaluate(changed(design, changes), profiles)
        except EntryError:
            continue
        after = _rung(report.ladder, rung_key)
        if before is None or after is None or after.headroom is None or after.headroom <= (before.headroom or 0) * 1.001:
            continue
        mend = Mend(says, field, was, becomes, dict(changes), before.headroom, after.headroom, after.verdict, report.verdict, report.in_words)
        # Of several steps of one kind the first that mends the whole axis is enough; they are tried from small to large.
        place = (_RANK[report.verdict], 0.0 if report.verdict == "holds" else -after.headroom)
        if says not in best or place < best[says][0]:
            best[says] = (place, mend)
    return [m for _, m in sorted(best.values(), key=lambda found: found[0])[:most]]


def _rung(ladder: tuple[Rung, ...], key: str) -> Rung | None:
    return next((r for r in ladder if r.key == key), None)


Change = tuple[str, str, str, str, dict[str, Any]]  # sentence, field, old and new value in words, what to set


def _single_changes(design: AxisDesign, profiles: Mapping[str, Profile]) -> Iterator[Change]:
    """Every change worth trying."""
    yield from _motor_changes(design)
    yield from _ratio_changes(design)
    yield from _belt_changes(design, profiles)
    aim = design.aim
    for part in (0.75, 0.5):
        less_a, less_v = aim.acceleration_mm_s2 * part, aim.speed_mm_s * part
        yield (
            "Ask for less acceleration",
            "aim.acceleration_mm_s2",
            f"{aim.acceleration_mm_s2:g} mm/s²",
            f"{less_a:g} mm/s²",
            {"aim.acceleration_mm_s2": less_a},
        )
        yield "Ask for less speed", "aim.speed_mm_s", f"{aim.speed_mm_s:g} mm/s", f"{less_v:g} mm/s", {"aim.speed_mm_s": less_v}


def _motor_changes(design: AxisDesign) -> Iterator[Change]:
    motor: Any = design.chain[0]
    driver = getattr(motor, "driver", None)
    at = "chain.0.driver"
    if driver is not None:
        for volts in SUPPLIES_V:
            if volts > driver.supply_v:
                yield "Raise the supply voltage", f"{at}.supply_v", f"{driver.supply_v:g} V", f"{volts:g} V", {f"{at}.supply_v": volts}
        rated = motor.rated_current_a * (2**0.5 if driver.current_is == "peak" else 1.0)
        if driver.current_a < rated * 0.999:
            yield (
                "Set the driver to the motor's rated current",
                f"{at}.current_a",
                f"{driver.current_a:g} A",
                f"{rated:.3g} A",
                {f"{at}.current_a": round(rated, 3)},
            )
        if driver.idle_percent < 100:
            yield "Keep full current while standing", f"{at}.idle_percent", f"{driver.idle_percent:g} %", "100 %", {f"{at}.idle_percent": 100.0}
        for steps in (8, 16, 32, 64):
            if steps != driver.microsteps:
                yield "Change the microsteps", f"{at}.microsteps", f"1/{driver.microsteps}", f"1/{steps}", {f"{at}.microsteps": steps}


def _ratio_changes(design: AxisDesign) -> Iterator[Change]:
    for j, stage in enumerate(design.chain):
        ratio = getattr(stage, "ratio", None)
        if j and ratio is not None:
            for other in (*RATIOS, 2 * RATIOS[-1]):
                if other != ratio:
                    word = "Take more reduction" if other > ratio else "Take less reduction"
                    yield word, f"chain.{j}.ratio", f"{ratio:g} : 1", f"{other:g} : 1", {f"chain.{j}.ratio": other}
    if len(design.chain) == 1:
        for ratio in RATIOS:
            chain = [*[s.model_dump(mode="json") for s in design.chain], {"kind": "gearbox", "ratio": ratio}]
            yield "Add a gearbox", "chain", "direct", f"{ratio:g} : 1", {"chain": chain}


def _belt_changes(design: AxisDesign, profiles: Mapping[str, Profile]) -> Iterator[Change]:
    end: Any = design.end
    pulley, belt = getattr(end, "pulley", None), getattr(end, "belt", None)
    if pulley is None or belt is None or belt.profile not in profiles:
        return
    profile = profiles[belt.profile]
    for teeth in _neighbours(TEETH, pulley.teeth, profile.min_teeth):
        word = "Take a larger drive pulley" if teeth > pulley.teeth else "Take a smaller drive pulley"
        yield word, "end.pulley.teeth", f"{pulley.teeth} teeth", f"{teeth} teeth", {"end.pulley.teeth": teeth}
    for width in profile.widths_mm:
        if width > belt.width_mm:
            yield "Take a wider belt", "end.belt.width_mm", f"{belt.width_mm:g} mm", f"{width:g} mm", {"end.belt.width_mm": float(width)}
    if belt.cord == "glass":
        yield "Take steel cord", "end.belt.cord", "glass", "steel", {"end.belt.cord": "steel"}
    if belt.tension_n is not None:
        yield "Set the tension to the target", "end.belt.tension_n", f"{belt.tension_n:g} N", "target", {"end.belt.tension_n": None}
    for name in ("motor_mount", "idler_mount"):
        mount = getattr(end, name)
        if mount.kind == "plate":
            thick = mount.thickness_mm + 2
            yield (
                f"Make the {name.replace('_', ' ')} 2 mm thicker",
                f"end.{name}.thickness_mm",
                f"{mount.thickness_mm:g} mm",
                f"{thick:g} mm",
                {f"end.{name}.thickness_mm": thick},
            )


def _neighbours(sizes: tuple[int, ...], size: int, least: int) -> list[int]:
    """Two sizes below and two above, none under the least."""
    below = [s for s in sizes if least <= s < size][-2:]
    return below + [s for s in sizes if s > size][:2]
