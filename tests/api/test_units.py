"""Inches on request: sentences follow the header, numbers do not."""

from __future__ import annotations

import re
from typing import Any

from fastapi.testclient import TestClient

from crisp_cadence.api.app import make_app
from crisp_cadence.core.design.layouts import begin


def test_sentences_follow_the_header_and_numbers_do_not(tmp_path: Any) -> None:
    design = begin("carriage_loop", "Slide").model_dump(mode="json")
    with TestClient(make_app(tmp_path), base_url="http://localhost") as client:

        def ask(**headers: str) -> Any:
            answer = client.post("/api/evaluate", json=design, headers=headers)
            assert answer.status_code == 200
            return answer.json()

        plain, inches, odd = ask(), ask(**{"accept-units": "imperial"}), ask(**{"accept-units": "cubits"})
        assert plain == odd
        assert plain["results"] == inches["results"]
        words = [w["do"] for w in inches["work"]]
        assert any(re.search(r"Cut the belt: [\d.]+ in\b", w) for w in words), words
        assert plain["work"] != inches["work"]
        tight = {**design, "guide": {**design["guide"], "rail_mm": 60.0}}
        refused = client.post("/api/evaluate", json=tight, headers={"accept-units": "imperial"})
        assert refused.status_code == 422
        problem = refused.json()["problems"][0]
        assert (problem["unit"], " mm" in problem["remedy"]) == ("in", False), problem


def test_a_revision_number_that_no_store_can_hold_is_refused(tmp_path: Any) -> None:
    with TestClient(make_app(tmp_path), base_url="http://localhost") as client:
        answer = client.get(f"/api/axes/{'0' * 12}/revisions/{10**30}")
        assert answer.status_code == 422
