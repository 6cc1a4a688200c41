"""Every route under generated input: typed answers only, never a 500. Seed fixed for the gate; free seeds outside it."""

from __future__ import annotations

from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error

from crisp_cadence.api.app import make_app

_APP = make_app(Path("build") / "fuzz")
schema = schemathesis.openapi.from_dict(_APP.openapi())
schema.app = _APP


@schema.parametrize()
@settings(max_examples=15, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_route_breaks(case: schemathesis.Case) -> None:
    response = case.call(headers={"host": "testserver"})
    not_a_server_error(None, response, case)
