"""The OpenAPI document names a policy's fields as the core defines them."""

from __future__ import annotations

from typing import Any

import pytest

from plumrake.core.gate_rules import GateRules
from plumrake.core.policy import Policy
from plumrake.core.tables import as_written
from plumrake.service.app import create_app


@pytest.fixture(scope="module")
def schemas() -> dict[str, Any]:
    """The document's definitions."""
    found: dict[str, Any] = create_app().openapi()["components"]["schemas"]
    return found


@pytest.mark.parametrize(("name", "table"), [("Policy", Policy), ("GateRules", GateRules)])
def test_every_field_of_a_table_is_there(
    schemas: dict[str, Any], name: str, table: type[Policy | GateRules]
) -> None:
    """As it is written, with its title and what it does; nothing else may stand in the table; none
    has to be there."""
    shown = schemas[name]
    assert set(shown["properties"]) == {as_written(field) for field in table.model_fields}
    assert shown["additionalProperties"] is False
    assert "required" not in shown
    for field, said in shown["properties"].items():
        assert said.get("title") or "$ref" in said, field
        assert said["description"].endswith("."), field
        assert "default" not in said, field


def test_defaults_are_said_in_words(schemas: dict[str, Any]) -> None:
    """Where there is one."""
    fields = schemas["Policy"]["properties"]
    assert fields["due-days"]["description"].endswith("Default: 14.")
    assert fields["waivers-by"]["description"].endswith("Default: manager.")
    assert "Default" not in fields["palette"]["description"]


@pytest.mark.parametrize(
    ("model", "field", "table"),
    [
        ("Site", "policy", "Policy"),
        ("NewSite", "policy", "Policy"),
        ("PolicyToTry", "policy", "Policy"),
        ("GateToTry", "gate", "GateRules"),
    ],
)
def test_bodies_and_answers_refer_to_the_tables(
    schemas: dict[str, Any], model: str, field: str, table: str
) -> None:
    """Wherever a policy or the gate's rules stand."""
    assert schemas[model]["properties"][field]["$ref"] == f"#/components/schemas/{table}"


def test_a_change_may_leave_the_policy_alone(schemas: dict[str, Any]) -> None:
    """It is a table or nothing."""
    either = schemas["SiteChange"]["properties"]["policy"]["anyOf"]
    assert either == [{"$ref": "#/components/schemas/Policy"}, {"type": "null"}]
    assert "x-table" not in str(schemas)
