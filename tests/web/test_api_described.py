"""What programs can ask for keeps to its own description, whatever they send; the walk in the documentation works."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from PIL import Image
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import content_type_conformance, response_schema_conformance
from tools.stack import Stack

from glowreel.services import tokens
from glowreel.services.setup import Runtime
from glowreel.web.api.operations import OPERATIONS
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.services.test_teams import somebody

ROOT = Path(__file__).resolve().parents[2]
CHECKS = [not_a_server_error, response_schema_conformance, content_type_conformance]


@pytest.fixture(scope="module")
def token(runtime: Runtime) -> str:
    with runtime.database.unit() as unit:
        return tokens.begin(unit.session, somebody(runtime), "Odd", ("look", "make", "send"), 30)[1]


@pytest.fixture(scope="module")
def described(runtime: Runtime) -> Any:
    app = create_app(runtime)
    limiter.enabled = False
    return schemathesis.openapi.from_wsgi("/api/v1/openapi.json", app)


@pytest.mark.parametrize("name", [operation.name for operation in OPERATIONS])
def test_whatever_is_sent_the_answer_is_as_described(name: str, described: Any, token: str) -> None:
    operation = described.find_operation_by_id(name)

    @given(case=operation.as_strategy())
    @settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True, database=None)
    def ask(case: Any) -> None:
        case.call_and_validate(headers={"Authorization": f"Bearer {token}"}, checks=CHECKS)

    ask()


def test_the_walk_in_the_documentation_does_what_it_says(stack: Stack, runtime: Runtime, tmp_path: Path) -> None:
    (walk,) = re.findall(r"```python\n(.*?)```", (ROOT / "docs" / "programs.md").read_text(), re.DOTALL)
    Image.effect_noise((1200, 900), 60).convert("RGB").save(tmp_path / "dawn.jpg")
    with runtime.database.unit() as unit:
        given = tokens.begin(unit.session, somebody(runtime), "Walk", ("look", "make", "send"), 30)[1]
    told = {**os.environ, "GLOWREEL_ADDRESS": stack.address, "GLOWREEL_TOKEN": given}
    done = subprocess.run([sys.executable, "-c", walk], cwd=tmp_path, env=told, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "spring-tall.mp4").stat().st_size > 10_000
    assert (tmp_path / "spring.gif").read_bytes()[:4] == b"GIF8"
    assert "2 promos made" in done.stdout
