"""Every route of the API, asked for what its description allows and for what it does not: never a mistake of ours, and an
answer of the kind that the description tells."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import not_a_server_error
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from nimble_quote.api.app import make_app
from nimble_quote.settings import Settings
from nimble_quote.store.cluster import Cluster
from tests.conftest import RunningApp, bring_in, start_app
from tests.helpers import keep

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
EACH = int(os.environ.get("NIMBLE_QUOTE_FUZZ_EACH", "3"))
"""Requests of each kind to each route; more of them find little more and take longer: `tests.bench fuzz` makes 10,000."""
_CALLS: list[str] = []
_ENDLESS = "/api/changes"
"""It answers for as long as somebody listens."""

_DESCRIBED = schemathesis.openapi.from_dict(make_app(Settings(media_root=Path("/nonexistent"))).openapi())
ROUTES = [operation for found in _DESCRIBED.get_all_operations() if (operation := found.ok()).path != _ENDLESS]


@pytest.fixture(scope="module")
def own_app(cluster: Cluster, clip: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """An application of its own, with a recording and a quote: whatever is asked for is done to it."""
    running = start_app(cluster, tmp_path_factory.mktemp("every-route"), "every_route")
    with running.client as client:
        talk = bring_in(client, clip).json()["id"]
        keep(client, talk, "Sentence number 1 is here.")
    yield running
    running.kill(running.workers)
    running.kill(running.servers)
    if told := os.environ.get("NIMBLE_QUOTE_FUZZ_TOLD"):
        Path(told).write_text(str(len(_CALLS)))


@pytest.mark.parametrize("mode", GenerationMode)
@pytest.mark.parametrize("route", ROUTES, ids=[f"{route.method.upper()} {route.path}" for route in ROUTES])
def test_a_route_answers_as_described(
    route: schemathesis.schemas.APIOperation, mode: GenerationMode, own_app: RunningApp
):
    @given(case=route.as_strategy(generation_mode=mode))
    @settings(max_examples=EACH, deadline=None, derandomize=True, database=None,
              suppress_health_check=list(HealthCheck), phases=[Phase.generate])  # fmt: skip
    def ask(case: schemathesis.Case) -> None:
        _CALLS.append(case.path)
        case.call_and_validate(base_url=own_app.url, checks=CHECKS, timeout=30)

    try:
        ask()
    except Unsatisfiable:
        pytest.skip("nothing of this route can be wrong")
