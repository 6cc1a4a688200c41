"""The drive line as it is shown: every part from motor to moving point."""

from __future__ import annotations

from dataclasses import replace

from ..account.context import Context
from ..account.report import DriveNode, Share
from ..formulas import motion
from ..ledger.amounts import said
from ..parts.ends.contract import End
from ..parts.stages.contract import Stage
from .chain import label_of


def drive_line(
    ctx: Context, stages: list[Stage], end: End, shares: tuple[Share, ...]
) -> tuple[DriveNode, ...]:
    """Motor, stages, end and moving point, each with its speed, its load and its share of the give."""
    part_share = {s.part: s.share for s in shares}
    drive, loads, aim = ctx.drive, ctx.loads, ctx.design.aim
    nodes = []
    for j, stage in enumerate(stages):
        lam = drive.lam_motor if j == 0 else drive.lam_out[j]
        speed = ctx.calc(
            f"chain.{j}.speed_out",
            f"Speed out of the {label_of(stage).lower()}",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=lam,
        )
        if j == 0:
            torque = drive.torque_in[0]["accelerate"]
        else:
            torque = (
                drive.torque_in[j + 1]["accelerate"]
                if j + 1 < len(stages)
                else drive.torque_end["accelerate"]
            )
        part = "field" if j == 0 else f"chain.{j}"
        main, field = stage.main_number()
        label = stage.label or label_of(stage)
        nodes.append(
            DriveNode(
                part,
                label,
                f"chain.{j}",
                f"chain.{j}.{field}",
                main,
                speed.value,
                "rpm",
                torque.value,
                "N·m",
                part_share.get(part),
                _shows(end, f"chain.{j}"),
            )
        )
    moved = said(loads.masses.total.value or 0, "kg", ".3g")
    tail = [
        *end.drive_nodes(ctx),
        DriveNode(
            "carriage",
            end.point.capitalize(),
            "moving",
            "moving.0.mass_kg",
            moved,
            aim.speed_mm_s,
            "mm/s",
            loads.by_phase["accelerate"].value,
            "N",
            None,
        ),
    ]
    nodes += [
        replace(
            node,
            give_share=part_share.get("shaft" if node.part == "pulley" else node.part),
            shows=_shows(end, node.at),
        )
        for node in tail
    ]
    return tuple(nodes)


def _shows(end: End, at: str) -> tuple[str, ...]:
    return end.shows.get(at, (f"{at}.",))
