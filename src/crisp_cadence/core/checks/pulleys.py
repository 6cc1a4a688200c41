"""What no belt can run on: too few teeth, bores larger than hub or teeth leave room for."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from ..account.context import Context
from ..fields.belts import Idler, Pulley, Roller
from ..fields.profile import Profile
from ..formulas import belt
from ..geometry.route import check_rollers
from ..ledger.errors import Problem, problem
from ..ledger.formula import Real
from ..ledger.many import both


def check_belt(
    ctx: Context,
    profile: Profile,
    pulley: Pulley,
    idlers: Sequence[tuple[str, Idler]],
    rollers: Sequence[Roller],
) -> None:
    """Problems between belt, pulley, idlers and rollers of an open belt."""
    check_pulley(ctx, profile, pulley, "end.pulley")
    for at, idler in idlers:
        if idler.kind == "toothed":
            ctx.stop(idler.teeth < profile.min_teeth, partial(_too_few, profile, f"{at}.teeth", idler.teeth))
    check_rollers(rollers, "end.rollers", profile, ctx.stop)


def _too_few(profile: Profile, field: str, teeth: int) -> Problem:
    return problem(
        field,
        f"is below what {profile.name} allows: the belt would be bent too sharply",
        value=teeth,
        limit=profile.min_teeth,
        unit="teeth",
        remedy=f"Take at least {profile.min_teeth} teeth, or a profile of smaller pitch.",
    )


def root_diameter(profile: Profile, teeth: Real) -> Real:
    """Diameter at the foot of a pulley's teeth, mm: no bore reaches it."""
    return belt.outside_diameter(teeth, profile.pitch_mm, profile.pitch_line_mm) - 2 * profile.tooth_height_mm


def check_pulley(ctx: Context, profile: Profile, pulley: Pulley, at: str) -> None:
    """Problems of a toothed pulley: too few teeth, a bore larger than the hub or the teeth leave room for."""
    ctx.stop(pulley.teeth < profile.min_teeth, lambda: _too_few(profile, f"{at}.teeth", pulley.teeth))
    ctx.stop(
        pulley.bore_mm >= pulley.hub_mm,
        lambda: problem(
            f"{at}.bore_mm",
            "is larger than the hub that it is bored in",
            value=pulley.bore_mm,
            limit=pulley.hub_mm,
            unit="mm",
            remedy="Take a pulley with a larger hub, or turn the shaft down.",
        ),
    )
    root = root_diameter(profile, pulley.teeth)
    ctx.stop(
        both(pulley.bore_mm >= root, root > 0),
        lambda: problem(
            f"{at}.bore_mm",
            "leaves no metal under the teeth",
            value=pulley.bore_mm,
            limit=round(root, 2),
            unit="mm",
            remedy="Take more teeth or a smaller bore.",
        ),
    )
