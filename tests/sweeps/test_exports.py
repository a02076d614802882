"""A sweep as a report: in every format the same findings, with what was waived and what is new; and
the same place keys as a look at the same pages."""

from __future__ import annotations

import json
import subprocess
import sys
from datetime import date, timedelta

import jsonschema
import pytest

from plumrake.client import PlumRake, PlumRakeError
from plumrake.report_forms import ReportForm
from plumrake.reports.report import REPORT_FORMS
from tests.conftest import SITE
from tests.reports.schemas import ASSERTION, SARIF
from tests.reports.test_formats import keys

BEGINS_SWEPT = True


def report(manager: PlumRake, form: ReportForm, sweep: int | None = None) -> str:
    return b"".join(manager.exports.sweep(SITE, form, sweep=sweep)).decode("utf-8")


def test_all_formats_say_the_same(manager: PlumRake, swept: int) -> None:
    """Place keys are those of the findings that count or are doubtful; SARIF and EARL are valid;
    a waiver is told with its reason."""
    found = list(manager.findings.list(SITE, sweep=swept, words="with"))
    one = next(finding for finding in found if finding.check == "links/no-name")
    manager.decisions.waive(
        one.id,
        scope="place",
        reason="The new share bar comes in spring",
        ends_on=date.today() + timedelta(days=60),
    )
    wanted = {finding.place_key for finding in found}
    for form in REPORT_FORMS:
        text = report(manager, form, swept)
        if form == "html":
            assert "Waived: The new share bar comes in spring" in text
        else:
            assert keys(form, text) == wanted, form
    log = json.loads(report(manager, "sarif", swept))
    jsonschema.validate(log, SARIF)
    [waived] = [result for result in log["runs"][0]["results"] if "suppressions" in result]
    assert waived["partialFingerprints"]["placeKey/v1"] == one.place_key
    graph = json.loads(report(manager, "earl", swept))["@graph"]
    assertions = [node for node in graph if node["@type"] == "earl:Assertion"]
    assert {node["earl:result"]["earl:outcome"]["@id"] for node in assertions} == {
        "earl:passed",
        "earl:failed",
        "earl:cantTell",
        "earl:inapplicable",
        "earl:untested",
    }
    for node in assertions[:200]:
        jsonschema.validate(node, ASSERTION)


def test_a_look_at_the_same_pages_has_the_same_place_keys(
    manager: PlumRake, swept: int, demo_site: dict[str, str]
) -> None:
    """What ``look`` sees at an address is what the sweep saw there."""
    paths = ["/", "/boating/fees/", "/news/otter-count/"]
    addresses = [f"{demo_site['live']}{path}" for path in paths]
    command = [sys.executable, "-m", "plumrake", "look", *addresses, "--as", "sarif"]
    command += ["--without", "text/spelling", "--without", "page/title-shared"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    looked = keys("sarif", done.stdout)
    log = json.loads(report(manager, "sarif", swept))["runs"][0]["results"]
    at = {
        result["partialFingerprints"]["placeKey/v1"]
        for result in log
        if result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] in addresses
        and result["ruleId"] not in ("text/spelling", "page/title-shared")
    }
    assert looked == at
    assert looked


def test_what_is_new_is_told_against_the_sweep_before(manager: PlumRake, swept: int) -> None:
    """The first sweep of a site has nothing to be held against; the next says of each whether it is
    new."""
    first = json.loads(report(manager, "sarif", swept))["runs"][0]["results"]
    assert not any("baselineState" in result for result in first)
    sweep = manager.sweeps.start(SITE, environment="live", lens="markup")
    assert list(manager.sweeps.follow(sweep.id))[-1].kind == "done"
    results = json.loads(report(manager, "sarif", sweep.id))["runs"][0]["results"]
    states = {result["baselineState"] for result in results}
    assert "unchanged" in states
    assert states <= {"unchanged", "new", "absent"}


@pytest.mark.parametrize("form", ["pdf", ""])
def test_unknown_formats_are_refused(manager: PlumRake, form: str) -> None:
    with pytest.raises(PlumRakeError, match="as"):
        report(manager, form)  # type: ignore[arg-type]
