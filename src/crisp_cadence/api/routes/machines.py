"""A machine as a whole: worked out, its plan, its steps, its file."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated

from fastapi import Query, Request, Response

from ... import catalog
from ...core.design.design import AxisDesign
from ...core.machine.at_axis import InMachine, in_machine
from ...core.machine.design import MachinePlan, dump_machine, parse_machine, plan_of
from ...core.machine.money import cents
from ...core.machine.report import machine_report
from ...core.machine.work import Axes, part_states
from ...exchange.bill import bill_csv
from ...store import log, machines
from ...store.axes import get_axis
from .. import models as m
from .common import JSON_BODY, act, attached, from_text, now, router, store_of

NEWEST = 12  # entries of the log that the page shows

Today = Annotated[m.Day | None, Query(description="The maker's own day; left out, that of the program.")]


@router.post("/machines/import", status_code=201, openapi_extra=JSON_BODY)
async def import_machine(request: Request) -> m.IdAnswer:
    """Put a machine on the shelf from the text of its file, with all its axes."""
    return await from_text(request, machine_from_text)


@act
def machine_from_text(request: Request, text: bytes) -> m.IdAnswer:
    return m.IdAnswer(id=machines.add_whole(store_of(request), parse_machine(text), now()))


@router.get("/machines/{machine_id}")
def get_machine(request: Request, machine_id: m.Id, today: Today = None) -> m.MachineAnswer:
    """A machine worked out: its axes, one order of work, one order list, one sum."""
    found = machines.whole(store_of(request), machine_id)
    day = today or now()[:10]
    report = machine_report(found.file, catalog.profiles(), day)
    entries, costs = log.of_machine(store_of(request), machine_id, NEWEST)
    names = {a.key: a.design.name for a in found.file.axes}
    return m.MachineAnswer(
        id=machine_id,
        name=found.file.name,
        note=found.file.note,
        version=found.version,
        plan=plan_of(found.file),
        report=report,
        comes={s.name: (date.fromisoformat(day) + timedelta(s.days)).isoformat() for s in found.file.shops},
        unread=list(found.unread),
        log=[
            m.MachineEntry(axis=axis, axis_name=names.get(axis, ""), entry=entry) for axis, entry in entries
        ],
        log_entries=len(costs),
        log_cost=float(sum((cents(cost or 0.0) for cost in costs), Decimal(0))),
    )


@router.put("/machines/{machine_id}/plan")
@act
def save_plan(request: Request, machine_id: m.Id, body: m.PlanBody) -> m.VersionAnswer:
    """Save own steps, purchases and what else is beside the axes, on top of a version; 409 when another
    window was faster. An order that cannot be is refused, and nothing is saved. Parts that were ordered or
    have come are so in the axes' own designs too.
    """
    store = store_of(request)
    found = machines.whole(store, machine_id)
    with_it = found.file.model_copy(update={n: getattr(body.plan, n) for n in type(body.plan).model_fields})
    axes = Axes(with_it, catalog.profiles())
    axes.planned()
    states = part_states(axes, plan_of(found.file))
    version = machines.save_plan(store, machine_id, body.base_version, body.plan, now(), states)
    return m.VersionAnswer(version=version)


@router.get("/machines/{machine_id}/plans")
def plans(
    request: Request,
    machine_id: m.Id,
    before: Annotated[int | None, Query(ge=1, le=10**9)] = None,
    most: Annotated[int, Query(ge=1, le=500)] = 100,
) -> list[m.Revision]:
    """Revisions of what is beside a machine's axes, newest first: `most` of those before one, or of all."""
    return machines.plans(store_of(request), machine_id, before, most)


@router.get("/machines/{machine_id}/plans/{number}")
def plan_at(request: Request, machine_id: m.Id, number: m.Step) -> MachinePlan:
    """What was beside a machine's axes at a revision."""
    return machines.plan_at(store_of(request), machine_id, number)


@router.post("/axes/{axis_id}/work")
def axis_work(request: Request, axis_id: m.Id, design: AxisDesign) -> InMachine:
    """The order of work of an axis within its machine, with a design of it that is not saved yet: the maker's
    own steps stand in it, and what other axes have to be done with first.
    """
    store = store_of(request)
    found = machines.whole(store, get_axis(store, axis_id).machine_id)
    listed = [a.model_copy(update={"design": design}) if a.key == axis_id else a for a in found.file.axes]
    return in_machine(Axes(found.file.model_copy(update={"axes": listed}), catalog.profiles()), axis_id)


@router.put("/machines/{machine_id}/tick", status_code=204)
@act
def tick(request: Request, machine_id: m.Id, body: m.TickBody) -> None:
    """Tick a step on a day, or take its tick back."""
    machines.tick(store_of(request), machine_id, body.ref, body.day, now(), body.stood)


@router.get("/machines/{machine_id}/file")
def machine_file(request: Request, machine_id: m.Id) -> Response:
    """The machine as one file, its axes as whole designs."""
    found = machines.whole(store_of(request), machine_id)
    return attached(dump_machine(found.file), "application/json", f"machine-{machine_id}.json")


@router.get("/machines/{machine_id}/bill")
def bill(request: Request, machine_id: m.Id, today: Today = None) -> Response:
    """What was paid when, and what is still to buy, as CSV."""
    found = machines.whole(store_of(request), machine_id)
    report = machine_report(found.file, catalog.profiles(), today or now()[:10])
    return attached(bill_csv(report), "text/csv; charset=utf-8", f"bill-{machine_id}.csv")
