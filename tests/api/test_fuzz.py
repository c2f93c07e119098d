"""Every operation of the OpenAPI document with what a schema-driven tester makes up.

A few examples each here; `make fuzz` takes many (LOWFOLD_FUZZ).
"""

from __future__ import annotations

import os
import time
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings

from tests import plain
from tests.conftest import Server

EXAMPLES = int(os.environ.get("LOWFOLD_FUZZ", "2"))


@pytest.mark.timeout(3600)
def test_no_operation_fails_or_hangs(server: Server) -> None:
    schema = schemathesis.openapi.from_url(f"{server.url}/openapi.json")
    tried = 0
    for found in schema.get_all_operations():
        operation = found.ok()  # type: ignore[union-attr]  # one that is invalid raises here

        @settings(max_examples=EXAMPLES, suppress_health_check=list(HealthCheck), deadline=None)
        @given(case=operation.as_strategy())
        def answered(case: Any) -> None:
            nonlocal tried
            tried += 1
            began = time.monotonic()
            answer = case.call(timeout=15)
            assert time.monotonic() - began < 10
            assert answer.status_code < 500 or answer.status_code == 503, answer.text
            if answer.status_code >= 400:
                assert answer.headers["content-type"][0] == "application/problem+json"

        answered()
    assert tried > 30
    assert plain.get(f"{server.url}/api/designs").status_code == 200
