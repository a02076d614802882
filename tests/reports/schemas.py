"""Schemas of what reports are made of, written from the standards: those parts that we write."""

from __future__ import annotations

from typing import Any


def _of(required: str, **properties: Any) -> dict[str, Any]:
    """An object with these properties, and no others."""
    return {
        "type": "object",
        "required": required.split(),
        "properties": {name.replace("__", ""): one for name, one in properties.items()},
        "additionalProperties": False,
    }


def _list(items: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {"type": "array", "items": items, **more}


def _one_of(*values: str) -> dict[str, Any]:
    return {"enum": list(values)}


TEXT = {"type": "string", "minLength": 1}
ANY_TEXT = {"type": "string"}
FROM_1 = {"type": "integer", "minimum": 1}
FROM_0 = {"type": "integer", "minimum": 0}
URI = {"type": "string", "pattern": r"^[A-Za-z0-9\-._~:/?#\[\]@!$&'()*+,;=%]*$"}
INSTANT = {
    "type": "string",
    "pattern": r"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$",
}
LEVEL = _one_of("none", "note", "warning", "error")
MESSAGE = _of("text", text=TEXT, markdown=TEXT)
ARTIFACT = _of("uri", uri=URI)
REGION = _of(
    "startLine startColumn",
    startLine=FROM_1,
    startColumn=FROM_1,
    endLine=FROM_1,
    endColumn=FROM_1,
    snippet=_of("text", text=ANY_TEXT),
)
LOCATION = _of(
    "physicalLocation",
    physicalLocation=_of("artifactLocation", artifactLocation=ARTIFACT, region=REGION),
    logicalLocations=_list(_of("fullyQualifiedName", fullyQualifiedName=TEXT, kind=TEXT)),
)
RESULT = _of(
    "ruleId kind level message locations partialFingerprints",
    ruleId=TEXT,
    ruleIndex=FROM_0,
    kind=_one_of("pass", "open", "informational", "notApplicable", "review", "fail"),
    level=LEVEL,
    message=MESSAGE,
    locations=_list(LOCATION, minItems=1),
    partialFingerprints={"type": "object", "additionalProperties": TEXT},
    baselineState=_one_of("new", "unchanged", "updated", "absent"),
    suppressions=_list(
        _of(
            "kind",
            kind=_one_of("inSource", "external"),
            status=_one_of("accepted", "underReview", "rejected"),
            justification=TEXT,
        )
    ),
    fixes=_list(
        _of(
            "artifactChanges",
            description=MESSAGE,
            artifactChanges=_list(
                _of(
                    "artifactLocation replacements",
                    artifactLocation=ARTIFACT,
                    replacements=_list(
                        _of(
                            "deletedRegion",
                            deletedRegion=REGION,
                            insertedContent=_of("text", text=ANY_TEXT),
                        ),
                        minItems=1,
                    ),
                ),
                minItems=1,
            ),
        )
    ),
    properties={"type": "object"},
)
RESULT["allOf"] = [
    {
        "if": {"properties": {"kind": {"not": {"const": "fail"}}}},
        "then": {"properties": {"level": {"const": "none"}}},
    }
]  # 3.27.10
RULE = _of(
    "id",
    id=TEXT,
    shortDescription=MESSAGE,
    fullDescription=MESSAGE,
    help=MESSAGE,
    defaultConfiguration=_of("level", level=LEVEL),
    properties=_of("tags", tags=_list(TEXT, uniqueItems=True), weight=TEXT),
)
NOTIFICATION = _of("message", level=LEVEL, message=MESSAGE, locations=_list(LOCATION))
SARIF = _of(
    "$schema version runs",
    **{
        "$schema": URI,
        "version": {"const": "2.1.0"},
        "runs": _list(
            _of(
                "tool results",
                tool=_of(
                    "driver",
                    driver=_of("name", name=TEXT, semanticVersion=TEXT, rules=_list(RULE)),
                ),
                columnKind=_one_of("utf16CodeUnits", "unicodeCodePoints"),
                results=_list(RESULT),
                invocations=_list(
                    _of(
                        "executionSuccessful",
                        executionSuccessful={"type": "boolean"},
                        startTimeUtc=INSTANT,
                        toolExecutionNotifications=_list(NOTIFICATION),
                    )
                ),
            ),
            minItems=1,
        ),
    },
)
NODE = _of("@id", **{"@id": URI})
POINTER = {
    "type": "object",
    "required": ["@type"],
    "properties": {"@type": _one_of("ptr:CSSSelectorPointer", "ptr:LineCharPointer")},
}
ASSERTION = _of(
    "@type earl:assertedBy earl:subject earl:test earl:result",
    **{
        "@type": {"const": "earl:Assertion"},
        "earl:assertedBy": NODE,
        "earl:subject": _of("@id", **{"@id": TEXT, "@type": _list(TEXT)}),
        "earl:test": NODE,
        "earl:mode": NODE,
        "earl:result": _of(
            "@type earl:outcome",
            **{
                "@type": {"const": "earl:TestResult"},
                "earl:outcome": _of(
                    "@id",
                    **{
                        "@id": _one_of(
                            "earl:passed",
                            "earl:failed",
                            "earl:cantTell",
                            "earl:inapplicable",
                            "earl:untested",
                        )
                    },
                ),
                "earl:pointer": _list(POINTER, minItems=1),
                "earl:info": TEXT,
                "dct:description": TEXT,
                "dct:identifier": TEXT,
                "dct:date": {"type": "object"},
            },
        ),
    },
)
