"""The shelf: machines, axes, revisions, and the file that they stand in."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request, Response

from ... import catalog
from ...core.choosing.beginning import begun
from ...core.design.design import AxisDesign, dump_design, parse_design
from ...core.design.riding import on_its_own
from ...store import Store, axes, history
from ...store.rescue import Rescued, adopt, rescue
from .. import models as m
from .common import JSON_BODY, act, attached, from_text, kept_of, now, router, store_of


@router.get("/shelf", response_model=list[m.ShelfMachine])
def shelf(request: Request) -> Response:
    """The machines, each with its axes as one line."""
    return Response(kept_of(request).shelf.as_json(), media_type="application/json")


@router.get("/shelf/off")
def off_shelf(request: Request) -> list[m.Off]:
    """Machines and axes that were taken off the shelf, newest first; each can be put back."""
    return axes.off_shelf(store_of(request))


@router.get("/store")
def store_state(request: Request) -> m.StoreAnswer:
    """Whether the data file takes saves."""
    store = store_of(request)
    found, copy = store.state(), store.last_copy()
    held = history.size(store) if found is None else history.Size(store.bytes_on_disk(), 0)
    return m.StoreAnswer(
        file=str(store.path),
        cause=found.cause if found else None,
        says=str(found or ""),
        last_copy=copy.name if copy else "",
        bytes=held.bytes,
        revisions=held.revisions,
        copies=[]
        if found or axes.places(store) or axes.machines(store)
        else [p.name for p in store.left_over()],
    )


@router.get("/store/thin")
def would_thin(request: Request, days: m.Days = 30) -> m.Thinned:
    """What thinning would take away: of revisions older than so many days, all but the last of each day, the
    first, and what is pointed to.
    """
    return history.would_thin(store_of(request), days, now())


@router.post("/store/thin")
def thin(request: Request, body: m.ThinBody) -> m.Thinned:
    """Thin out old revisions, after a copy of the file was set aside. Designs as they stand are never
    touched.
    """
    return history.thin(store_of(request), body.days, now())


@router.post("/store/rescue")
def rescue_store(request: Request) -> Rescued:
    """Put a sound file in the place of one that is damaged or has gone, with all that can still be read."""
    return rescue(store_of(request))


@router.post("/store/adopt")
def adopt_copy(request: Request, body: m.CopyBody) -> m.StoreAnswer:
    """Put a copy that lies beside an empty data file in its place."""
    adopt(store_of(request), body.name)
    return store_state(request)


@router.post("/machines", status_code=201)
@act
def add_machine(request: Request, body: m.MachineBody) -> m.IdAnswer:
    return m.IdAnswer(id=axes.add_machine(store_of(request), body.name, body.note, now()))


@router.put("/machines/{machine_id}")
@act
def rename_machine(request: Request, machine_id: m.Id, body: m.RenameBody) -> m.VersionAnswer:
    """Change a machine's name and note on top of a version; 409 when another window was faster."""
    return m.VersionAnswer(
        version=axes.rename_machine(store_of(request), machine_id, body.base_version, body.name, body.note)
    )


@router.delete("/machines/{machine_id}", status_code=204)
@act
def remove_machine(request: Request, machine_id: m.Id) -> None:
    """Take a machine off the shelf; it can be put back."""
    axes.set_machine_removed(store_of(request), machine_id, now())


@router.post("/machines/{machine_id}/back", status_code=204)
@act
def put_machine_back(request: Request, machine_id: m.Id) -> None:
    axes.set_machine_removed(store_of(request), machine_id, None)


@router.post("/machines/{machine_id}/axes", status_code=201)
@act
def add_axis(request: Request, machine_id: m.Id, body: m.NewAxisBody) -> m.IdAnswer:
    """A new axis of a layout, for the aims that are told."""
    design = begun(body.layout, body.name, body.aims, catalog.profiles())
    return m.IdAnswer(id=axes.add_axis(store_of(request), machine_id, design, now()))


@router.post("/machines/{machine_id}/import", status_code=201, openapi_extra=JSON_BODY)
async def import_axis(request: Request, machine_id: m.Id) -> m.IdAnswer:
    """Add an axis from the text of a design file, read by the same code as the command line's files."""
    return await from_text(request, axis_from_text)


@act
def axis_from_text(request: Request, text: bytes) -> m.IdAnswer:
    design = on_its_own(parse_design(text))
    return m.IdAnswer(id=axes.add_axis(store_of(request), request.path_params["machine_id"], design, now()))


def _axis(store: Store, axis_id: str) -> m.AxisAnswer:
    saved = axes.get_axis(store, axis_id)
    others = [m.Neighbour(id=i, name=n) for i, n in axes.neighbours(store, axis_id)]
    return m.AxisAnswer(
        id=saved.id,
        name=saved.name,
        machine_id=saved.machine_id,
        machine=saved.machine,
        version=saved.version,
        saved_at=saved.saved_at,
        design=saved.design,
        problems=list(saved.problems),
        rides_on=saved.rides_on,
        may_ride_on=others,
    )


@router.get("/axes/{axis_id}")
def get_axis(request: Request, axis_id: m.Id) -> m.AxisAnswer:
    return _axis(store_of(request), axis_id)


@router.put("/axes/{axis_id}")
@act
def save_axis(request: Request, axis_id: m.Id, body: m.SaveBody) -> m.SavedAnswer:
    """Save on top of a version; 409 when another window was faster."""
    at = now()
    version = axes.save(store_of(request), axis_id, body.base_version, body.design, at, body.why)
    return m.SavedAnswer(version=version, saved_at=at)


@router.put("/axes/{axis_id}/rides")
@act
def ride(request: Request, axis_id: m.Id, body: m.RidesBody) -> m.AxisAnswer:
    """Say on which axis of its machine an axis rides, or on none."""
    axes.set_rides_on(store_of(request), axis_id, body.on)
    return _axis(store_of(request), axis_id)


@router.delete("/axes/{axis_id}", status_code=204)
@act
def remove_axis(request: Request, axis_id: m.Id) -> None:
    axes.remove_axis(store_of(request), axis_id, now())


@router.post("/axes/{axis_id}/back")
@act
def put_axis_back(request: Request, axis_id: m.Id) -> m.BackAnswer:
    """Put an axis back on the shelf; it rides on none where what it rode on cannot carry it any more."""
    return m.BackAnswer(rides_on=axes.put_axis_back(store_of(request), axis_id))


@router.get("/axes/{axis_id}/file")
def axis_file(request: Request, axis_id: m.Id) -> Response:
    """The design as a file; one that cannot be read goes out as it is stored."""
    saved = axes.get_axis(store_of(request), axis_id)
    text = saved.text if saved.design is None else dump_design(saved.design)
    return attached(text, "application/json", f"axis-{axis_id}.json")


@router.get("/axes/{axis_id}/revisions")
def revisions(
    request: Request,
    axis_id: m.Id,
    before: Annotated[int | None, Query(ge=1, le=10**9)] = None,
    most: Annotated[int, Query(ge=1, le=500)] = 100,
) -> list[m.Revision]:
    """Revisions, newest first: `most` of those before a number, or of all."""
    return axes.revisions(store_of(request), axis_id, before, most)


@router.get("/axes/{axis_id}/revisions/{number}")
def revision(request: Request, axis_id: m.Id, number: m.Step) -> AxisDesign:
    """The design as it stood at a revision."""
    return axes.revision_design(store_of(request), axis_id, number)


@router.post("/axes/{axis_id}/restore")
@act
def restore(request: Request, axis_id: m.Id, body: m.RestoreBody) -> m.AxisAnswer:
    """Make an earlier revision the newest one; nothing in between is lost."""
    store = store_of(request)
    design = axes.revision_design(store, axis_id, body.number)
    axes.save(store, axis_id, body.base_version, design, now(), f"back to revision {body.number}")
    return _axis(store, axis_id)
