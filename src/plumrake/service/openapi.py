"""The OpenAPI document, with a policy's fields as the core defines them.

The client knows a policy as a table that it passes on, so that an older client gets along with a
newer service; whoever writes programs or forms from the document gets every field, its kind and
what it does.
"""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from pydantic.json_schema import models_json_schema

from plumrake.core.gate_rules import GateRules
from plumrake.core.policy import Policy
from plumrake.models.base import TABLE_KIND, ProblemDetails

_PLACE = "#/components/schemas/{model}"
_NEVER_ANSWERED = ("HTTPValidationError", "ValidationError")


def document_of(app: FastAPI) -> dict[str, Any]:
    """Return the document of an app, made once."""
    if app.openapi_schema is None:
        made = get_openapi(title=app.title, version=app.version, routes=app.routes)
        _, tables = models_json_schema(
            [(Policy, "validation"), (GateRules, "validation")], ref_template=_PLACE
        )
        made["components"]["schemas"] |= {
            name: _all_may_be_left_out(table) for name, table in tables["$defs"].items()
        }
        _tell_of_problems(made)
        app.openapi_schema = _with_tables(made)
    return app.openapi_schema


def _tell_of_problems(made: dict[str, Any]) -> None:
    """Say of every operation that whatever does not go well is a problem (RFC 9457), in place of
    the framework's own shape, which is never answered."""
    shape = {"$ref": _PLACE.format(model=ProblemDetails.__name__)}
    told = {
        "description": "What is wrong, where, and what to do.",
        "content": {"application/problem+json": {"schema": shape}},
    }
    schemas = made["components"]["schemas"]
    for name in _NEVER_ANSWERED:
        schemas.pop(name, None)
    schemas[ProblemDetails.__name__] = ProblemDetails.model_json_schema(mode="serialization")
    for operations in made["paths"].values():
        for operation in operations.values():
            operation["responses"].pop("422", None)
            operation["responses"]["default"] = told


def _all_may_be_left_out(table: dict[str, Any]) -> dict[str, Any]:
    """Return a table's definition with its defaults in words: generators take a field with a
    default for one that is always there."""
    return {**table, "properties": {name: _told(one) for name, one in table["properties"].items()}}


def _told(field: dict[str, Any]) -> dict[str, Any]:
    default = field.get("default")
    rest = {name: value for name, value in field.items() if name != "default"}
    if not default:
        return rest
    says = ", ".join(default) if isinstance(default, list) else default
    return {**rest, "description": f"{field['description']} Default: {says}."}


def _with_tables(part: Any) -> Any:
    """Return a part of the document in which tables are named by their definition."""
    if isinstance(part, list):
        return [_with_tables(one) for one in part]
    if not isinstance(part, dict):
        return part
    if TABLE_KIND in part:
        said = {name: part[name] for name in ("description", "default") if name in part}
        return {"$ref": _PLACE.format(model=part[TABLE_KIND]), **said}
    return {name: _with_tables(one) for name, one in part.items()}
