"""Which shaft a stage is joined to, what must stand for that, and what holds it: the words in which steps of
work wait for each other along the chain.
"""

from __future__ import annotations

from typing import Any

from ..account.context import Context
from ..account.report import WorkStep


def moved_after(at: str, ctx: Context) -> str | None:
    """What must have been done, where what follows a stage moves its shaft to tighten a belt of its own."""
    j, chain, end = int(at.rpartition(".")[2]) + 1, ctx.design.chain, ctx.design.end
    step: str | None = (
        chain[j].moves_shaft_before(f"chain.{j}") if j < len(chain) else end.moves_shaft_before()
    )
    return step


def step_key(at: str) -> str:
    """How the steps of work of a stage are called."""
    return at.replace(".", "_")


def own_key(name: str, at: str, ctx: Context) -> str:
    """Key of a step of work that every stage of one kind has: its plain name for the first of them."""
    j, chain = int(at.rpartition(".")[2]), ctx.design.chain
    first = next(i for i, s in enumerate(chain) if s.kind == chain[j].kind)
    return name if j == first else f"{step_key(at)}_{name}"


def shaft_into(at: str, ctx: Context) -> str:
    """What must stand before a stage can be joined to the shaft that drives it: the motor, with what is built
    on to it, or the shaft behind an earlier stage.
    """
    i, chain = int(at.rpartition(".")[2]) - 1, ctx.design.chain
    while i > 0 and chain[i].carries:
        i -= 1
    return "motor" if i == 0 else shaft_out(f"chain.{i}", ctx)


def shaft_out(at: str, ctx: Context) -> str:
    """The shaft behind a stage, as steps of work wait for it."""
    j = int(at.rpartition(".")[2])
    return "shaft.end" if j + 1 == len(ctx.design.chain) else f"shaft.{j}"


def held(shaft: str) -> str:
    """What must stand for that shaft to be held fast."""
    return "motor tight" if shaft == "motor" else shaft.replace("shaft", "held")


def stands_alone(ctx: Context) -> bool:
    """Whether the end of the chain has a shaft in bearings of its own."""
    return not ctx.design.chain[-1].carries


def behind(ctx: Context) -> str:
    """The part whose own shaft carries the end of the chain, in words."""
    return "motor" if len(ctx.design.chain) == 1 else "gearbox"


def bolted_at(ctx: Context) -> int:
    """Place of the stage whose flange the motor is bolted to its mount by: its own, or that of the last
    gearbox on it.
    """
    chain, j = ctx.design.chain, 0
    while j + 1 < len(chain) and chain[j + 1].carries:
        j += 1
    return j


def moves_motor(ctx: Context) -> bool:
    """Whether something moves the motor (with its gearbox) on its mount, and tightens it there."""
    return set_later(f"chain.{bolted_at(ctx)}", ctx)


def set_later(at: str, ctx: Context) -> bool:
    """Whether what follows a stage with a shaft of its own moves it on its mount, and tightens it there."""
    last = int(at.rpartition(".")[2]) + 1 == len(ctx.design.chain)
    return bool(last and ctx.design.end.sets_motor) or moved_after(at, ctx) is not None


def holds_end(ctx: Context) -> str:
    """What stands once that is tightened whose shaft the end of the chain sits on."""
    chain, i = ctx.design.chain, len(ctx.design.chain) - 1
    while i > 0 and chain[i].carries:
        i -= 1
    return "motor tight" if i == 0 else held(shaft_out(f"chain.{i}", ctx))


def countershaft(at: str, ctx: Context) -> list[WorkStep]:
    """The shaft behind a stage, where another one follows on it and neither has a shaft of its own."""
    j, chain = int(at.rpartition(".")[2]), ctx.design.chain
    if j + 1 >= len(chain) or chain[j + 1].carries:
        return []
    out, key = shaft_out(at, ctx), step_key(at)
    steps = [
        WorkStep(
            f"{key}_shaft",
            f"Press the bearings of the shaft between stages {j} and {j + 1} in, and run the shaft through.",
            "loose",
            after=("parts",),
            gives=(out,),
            fastens=(f"{key} plates",),
            check="It turns by its own weight.",
            tools=("press or vice", "sleeve on the outer ring"),
        )
    ]
    if moved_after(at, ctx) is None:
        steps.append(
            WorkStep(
                f"{key}_shaft_tight",
                f"Tighten the plates that hold the shaft between stages {j} and {j + 1}.",
                "tightened",
                after=(out,),
                gives=(held(out), "joined"),
                fastens=(f"{key} plates",),
                tools=("hex keys",),
            )
        )
    return steps


def joined(at: str, ctx: Context, key: str, do: str, **more: Any) -> WorkStep:
    """The step that joins a stage to both its shafts."""
    before = shaft_into(at, ctx)
    return WorkStep(
        key,
        do,
        "aligned",
        after=(before, shaft_out(at, ctx)),
        gives=("in line", "joined") if before == "motor" else ("joined",),
        fastens=(key,),
        needs=(at,),
        **more,
    )
