"""The whole API asked with what its own document allows, and with what it does not: no answer is an
error of the service, and each is one that the document tells of."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import hypothesis
import psycopg
import pytest
import schemathesis
from schemathesis import Case
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from plumrake.actions.secret_hashes import secret_hash
from plumrake.demo.ports import free_port
from plumrake.service.app import create_app
from plumrake.settings import Settings
from tests.conftest import EDITOR, MANAGER, Running

EXAMPLES = int(os.environ.get("PLUMRAKE_SCHEMA_EXAMPLES", "3"))
"""How many requests are made of each operation; ``bench.api`` makes many more."""
STREAMS = ("watchSite", "followSweep")
"""They answer as long as one listens."""
SECRET = "plr_of-the-test-of-the-schema"

NOT_HTTP, MOST_LINE = "Invalid HTTP request received.", 60_000
"""What the server in front of the app says of a request line that is longer than it takes."""

whose = itertools.cycle((MANAGER, EDITOR, "stranger"))
schema = schemathesis.openapi.from_dict(create_app(Settings()).openapi())


@pytest.fixture(scope="module")
def asked(running: Running, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """A service with the demo's site on the module's database, that lets any number of requests
    in."""
    folder: Path = tmp_path_factory.mktemp("asked")
    made = Running(running.database, free_port(), folder)
    made.start("serve", requests_a_minute="1000000")
    made.wait_until_ready()
    yield made
    made.stop()


def sign_in(database: str, email: str) -> dict[str, str]:
    """Return the header of a token of somebody who is as they were, whatever was asked before; of
    nobody's, where there is no such person."""
    with psycopg.connect(database) as connection:
        connection.execute(
            "UPDATE person SET active = TRUE, role = %s WHERE email = %s",
            ["manager" if email == MANAGER else "editor", email],
        )
        connection.execute("DELETE FROM token WHERE token_hash = %s", [secret_hash(SECRET)])
        connection.execute(
            "INSERT INTO token (person_id, name, token_hash, scopes, expires_at)"
            " SELECT id, 'schema', %s, '{read,write}', now() + interval '1 day' FROM person"
            " WHERE email = %s",
            [secret_hash(SECRET), email],
        )
    return {"Authorization": f"Bearer {SECRET}"}


@schema.exclude(operation_id=[*STREAMS]).parametrize()
@hypothesis.settings(
    max_examples=EXAMPLES,
    derandomize="PLUMRAKE_SCHEMA_EXAMPLES" not in os.environ,
    suppress_health_check=[*hypothesis.HealthCheck],
    phases=[hypothesis.Phase.explicit, hypothesis.Phase.generate],
)
def test_every_operation_answers_as_the_document_says(case: Case[Any], asked: Running) -> None:
    """Nothing that a manager, an editor or a stranger sends makes an error of the service; status,
    type and shape of the answer are the document's. No worker is there: nothing is waited for."""
    for given in (case.query, case.body):
        if isinstance(given, dict) and "wait" in given:
            given["wait"] = 0
    answer = case.call(
        base_url=asked.address, headers=sign_in(asked.database, next(whose)), timeout=60
    )
    if answer.text == NOT_HTTP:
        assert len(answer.request.url or "") > MOST_LINE
        return
    case.validate_response(
        answer,
        checks=[
            not_a_server_error,
            status_code_conformance,
            content_type_conformance,
            response_schema_conformance,
        ],
    )
