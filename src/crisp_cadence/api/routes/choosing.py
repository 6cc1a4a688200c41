"""Search, one change, other ways, proposals, how far."""

from __future__ import annotations

from fastapi import Request, Response
from fastapi.responses import StreamingResponse

from ... import catalog
from ...core.choosing.find import searching
from ...core.choosing.how_far import reaching
from ...core.choosing.plates import Plates, plates
from ...core.choosing.propose import proposing
from ...core.choosing.tries import trying
from ...core.choosing.ways import ways
from ...core.choosing.why import Options, Why, options, why_not
from ...core.ledger.long_work import as_json
from .. import models as m
from ..turns import BY_LINES, line_by_line
from .common import drawer_of, router


@router.post(
    "/search", response_class=StreamingResponse, responses={200: {"model": m.SearchLine, **BY_LINES}}
)
async def search_drawer(request: Request, body: m.SearchBody) -> Response:
    """Every combination of the drawer's parts for this aim, checked on the whole ladder; nothing is stored.

    Answers line by line: how much is done, then the answer. Whoever hangs up stops the search.
    """
    return await line_by_line(
        request.app.state.turns,
        lambda: searching(body.design, catalog.profiles(), drawer_of(request), body.scope, body.reductions),
        as_json,
    )


@router.post(
    "/change", response_class=StreamingResponse, responses={200: {"model": m.ChangeLine, **BY_LINES}}
)
async def one_change(request: Request, body: m.ChangeBody) -> Response:
    """Every single change to a design worked out whole, and the cheapest that mends it, line by line as a
    search answers.
    """
    return await line_by_line(
        request.app.state.turns, lambda: trying(body.design, catalog.profiles(), drawer_of(request)), as_json
    )


@router.post("/ways", response_class=StreamingResponse, responses={200: {"model": m.WaysLine, **BY_LINES}})
async def other_ways(request: Request, body: m.ChangeBody) -> Response:
    """The same aim by belt, screw and rack, with the cheapest parts found for each, line by line as a search
    answers.
    """
    return await line_by_line(
        request.app.state.turns, lambda: ways(body.design, catalog.profiles(), drawer_of(request)), as_json
    )


@router.post("/far", response_class=StreamingResponse, responses={200: {"model": m.ReachesLine, **BY_LINES}})
async def how_far(request: Request, body: m.ChangeBody) -> Response:
    """The most of each aim at which everything holds and what binds there, and what mends each rung that is
    short, line by line as a search answers.
    """
    return await line_by_line(
        request.app.state.turns, lambda: reaching(body.design, catalog.profiles()), as_json
    )


@router.post(
    "/propose", response_class=StreamingResponse, responses={200: {"model": m.ProposalsLine, **BY_LINES}}
)
async def proposals(request: Request, body: m.ChangeBody) -> Response:
    """Up to three whole designs for an aim, the plainest first, line by line as a search answers; nothing is
    stored.
    """
    return await line_by_line(
        request.app.state.turns,
        lambda: proposing(body.design, catalog.profiles(), drawer_of(request)),
        as_json,
    )


@router.post("/plates")
def plates_that_do(body: m.ChangeBody) -> Plates:
    """The plates that would do in place of mounts that are only assumed to be rigid; nothing is stored."""
    return plates(body.design, catalog.profiles())


@router.post("/search/options")
def search_options(request: Request, body: m.OptionsBody) -> Options:
    """What a combination can be put together from, by name."""
    return options(body.design, catalog.profiles(), drawer_of(request), body.scope)


@router.post("/search/why")
def search_why(request: Request, body: m.WhyBody) -> Why:
    """One combination worked out whole: which rung it fails at and by how much."""
    return why_not(
        body.design,
        catalog.profiles(),
        drawer_of(request),
        body.motor,
        body.stages,
        body.belt,
        body.microsteps,
        body.scope,
    )
