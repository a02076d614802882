"""A review by two people on a small site: where questions are asked, what becomes of answers, and
which of them lapse when a page changes."""

from __future__ import annotations

import re
from collections.abc import Iterator

import psycopg
import pytest

from plumrake import models
from plumrake.client import PlumRake, PlumRakeError
from tests.conftest import Running
from tests.small_site import SmallSite, small_site

SITE = "small"
SEEN = "review/seen-by-people"
PAGES = {
    "/": (
        "<h1>Canal</h1><nav aria-label=Main><a href=/fees/>Fees</a> <a href=/locks/>Locks</a>"
        "</nav><p>See <a href=/fees.pdf>the fees of 2027</a> and <a href=/accessibility/>how "
        "accessible we are</a>.</p>"
    ),
    "/fees/": "<h1>Fees</h1><table><tr><th>Boat<th>Fee<tr><td>Kayak<td>4</table>",
    "/locks/": (
        "<h1>Locks</h1><img src=/lock.png alt='A dog' width=40 height=40><img src=/gate.png "
        "alt='A gate' width=40 height=40><p>Press the green button to open.</p>"
    ),
    "/accessibility/": "<h1>Accessibility</h1><p>We are getting there.</p>",
}


@pytest.fixture(scope="module")
def pages(tmp_path_factory: pytest.TempPathFactory) -> Iterator[SmallSite]:
    made = small_site(tmp_path_factory.mktemp("live"), PAGES)
    yield made
    made.server.shutdown()


@pytest.fixture(scope="module")
def rake(running: Running, manager: PlumRake, pages: SmallSite) -> PlumRake:
    """The service with a worker and the small site, read once."""
    running.start("worker")
    manager.sites.add(
        models.NewSite(
            slug=SITE,
            name="Small",
            live_address=pages.address,
            found_by="list",
            listed_paths=[*PAGES],
            private_leave=True,
        )
    )
    swept(manager)
    return manager


@pytest.fixture(scope="module")
def imke(running: Running, rake: PlumRake) -> Iterator[PlumRake]:
    """An editor, signed in."""
    with running.client("imke@harrowmere.example") as signed_in:
        yield signed_in


@pytest.fixture(autouse=True)
def as_written(pages: SmallSite) -> Iterator[None]:
    yield
    pages.put_back()


def swept(rake: PlumRake) -> models.Sweep:
    sweep = rake.sweeps.start(SITE, lens="markup")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    return rake.sweeps.show(sweep.id)


def answer(
    rake: PlumRake, question: str, path: str | None, given: str, *faults: models.FaultSeen
) -> models.ReviewAnswer:
    asked = rake.reviews.question(SITE, question, path=path)
    return rake.reviews.answer(
        SITE,
        models.NewReviewAnswer(
            path=path,
            question=question,
            answer=given,  # type: ignore[arg-type]
            faults=[*faults],
            shown_key=asked.shown_key,
            instead_of=asked.last.id if asked.last is not None else None,
        ),
    )


def states(rake: PlumRake) -> dict[tuple[str | None, str], tuple[str | None, bool]]:
    """The answers in force, and whether each has lapsed."""
    return {
        (one.path, one.question): (one.answer, one.lapsed_at is not None)
        for one in rake.reviews.answers(SITE, in_force=True)
    }


def seen(rake: PlumRake) -> list[tuple[str, str, str]]:
    found = rake.findings.list(SITE, check=SEEN)
    return sorted((one.path, one.says, one.weight) for one in found)


def test_the_sample_says_why(rake: PlumRake) -> None:
    """Each page that is asked about has a reason; a page is asked what it has something to show
    for."""
    review = rake.reviews.show(SITE)
    because = {page.path: page.because for page in review.pages if page.asked}
    assert "has tables" in because["/fees/"]
    assert (
        sum(page.questions for page in review.pages)
        + sum(one.about == "site" for one in review.questions)
        == review.asked
    )
    assert rake.reviews.question(SITE, "table-cells", path="/fees/").rows[0]["cells"] == [
        {"text": "Kayak", "headers": ["Boat"]},
        {"text": "4", "headers": ["Fee"]},
    ]
    with pytest.raises(PlumRakeError) as refused:
        rake.reviews.question(SITE, "picture-texts", path="/fees/")
    assert refused.value.code == "not-asked"


def test_a_manager_changes_the_sample(rake: PlumRake, imke: PlumRake) -> None:
    before = {page.path for page in rake.reviews.show(SITE).pages if page.asked}
    out = sorted(before)[0]
    rake.reviews.choose(SITE, models.ChosenPage(path=out, chosen=False))
    swept(rake)
    assert {one.path for one in rake.reviews.show(SITE).pages if one.asked} == before - {out}
    rake.reviews.choose(SITE, models.ChosenPage(path=out, chosen=None))
    assert {one.path for one in rake.reviews.show(SITE).pages if one.asked} == before
    with pytest.raises(PlumRakeError) as refused:
        imke.reviews.choose(SITE, models.ChosenPage(path=out, chosen=False))
    assert refused.value.status == 403
    with pytest.raises(PlumRakeError) as unknown:
        rake.reviews.choose(SITE, models.ChosenPage(path="/nowhere/", chosen=True))
    assert unknown.value.status == 404


def test_two_people_are_not_given_the_same(rake: PlumRake, imke: PlumRake) -> None:
    """Each is given another question; a question that somebody answered is not given again."""
    mine, hers = rake.reviews.next(SITE).asked, imke.reviews.next(SITE).asked
    assert mine is not None
    assert hers is not None
    assert (mine.path, mine.question.key) != (hers.path, hers.question.key)
    again = rake.reviews.next(SITE).asked
    assert again is not None
    assert (again.path, again.question.key) == (mine.path, mine.question.key)
    passed = rake.reviews.next(
        SITE, models.WantedQuestion(behind_path=mine.path, behind=mine.question.key)
    ).asked
    assert passed is not None
    assert (passed.path, passed.question.key) not in [
        (mine.path, mine.question.key),
        (hers.path, hers.question.key),
    ]


def test_who_comes_second_is_told(rake: PlumRake, imke: PlumRake) -> None:
    """Two answers to one question: the second is refused with who answered, and may replace it."""
    asked = rake.reviews.question(SITE, "table-cells", path="/fees/")
    answer(imke, "table-cells", "/fees/", "fine")
    given = models.NewReviewAnswer(
        path="/fees/", question="table-cells", answer="fine", shown_key=asked.shown_key
    )
    with pytest.raises(PlumRakeError) as refused:
        rake.reviews.answer(SITE, given)
    assert refused.value.status == 409
    assert "answered meanwhile: fine" in str(refused.value)
    replaced = answer(rake, "table-cells", "/fees/", "does-not-apply")
    assert states(rake) == {("/fees/", "table-cells"): ("does-not-apply", False)}
    whole = list(rake.reviews.answers(SITE))
    assert [one.id for one in whole if one.ended_at is None] == [replaced.id]
    assert len(whole) == 2


def test_a_fault_is_a_finding_like_any_other(rake: PlumRake, imke: PlumRake) -> None:
    """It has place, cause and weight, holds the page, can be handed out, and is there in the next
    sweep; taken back, it is gone."""
    wrong = models.FaultSeen(says="The picture shows a lock.", weight="barrier", row=0)
    made = answer(imke, "picture-texts", "/locks/", "fault", wrong)
    expected = [("/locks/", "Seen by a person: The picture shows a lock.", "barrier")]
    assert seen(rake) == expected
    [finding] = rake.findings.list(SITE, check=SEEN)
    whole = rake.findings.show(finding.id)
    assert whole.selector.endswith("img:nth-of-type(1)")
    assert whole.criteria == ["1.1.1"]
    [page] = rake.sweeps.readings(whole.sweep_id, path="/locks/")
    assert not page.ready
    [cause] = rake.causes.list(SITE, check=SEEN)
    [fix] = rake.fixes.hand_out(SITE, sweep=whole.sweep_id, causes=[cause.key])
    assert fix.says == expected[0][1]
    swept(rake)
    assert seen(rake) == expected
    rake.reviews.take_back(SITE, made.id)
    assert seen(rake) == []


def test_what_is_mended_lapses_and_is_asked_again(rake: PlumRake, pages: SmallSite) -> None:
    """A fault that was mended is gone with the reading that proves it, and what changed is said;
    put back as it was, the answer holds again."""
    wrong = models.FaultSeen(says="The picture shows a lock.", row=0)
    answer(rake, "picture-texts", "/locks/", "fault", wrong)
    answer(rake, "headings-tell", "/locks/", "fine")
    [cause] = rake.causes.list(SITE, check=SEEN)
    [sweep] = {one.sweep_id for one in rake.findings.list(SITE, check=SEEN)}
    [fix] = rake.fixes.hand_out(SITE, sweep=sweep, causes=[cause.key])
    pages.write("/locks/", PAGES["/locks/"].replace("A dog", "A lock keeper"))
    swept(rake)
    assert seen(rake) == []
    assert rake.fixes.show(fix.id).state == "proven"
    assert states(rake) == {
        ("/locks/", "picture-texts"): ("fault", True),
        ("/locks/", "headings-tell"): ("fine", False),
    }
    again = rake.reviews.question(SITE, "picture-texts", path="/locks/")
    assert again.state == "lapsed"
    assert again.changed is not None
    assert again.changed == models.WhatChanged(more=["A lock keeper"], less=["A dog"])
    pages.put_back()
    swept(rake)
    assert states(rake)["/locks/", "picture-texts"] == ("fault", False)
    assert len(seen(rake)) == 1


def test_questions_about_the_site(rake: PlumRake, pages: SmallSite) -> None:
    """Documents and statement are found; a new document lets that answer lapse and no other."""
    documents = rake.reviews.question(SITE, "documents")
    assert [row["address"] for row in documents.rows] == ["/fees.pdf"]
    statement = rake.reviews.question(SITE, "statement")
    assert [row["address"] for row in statement.rows] == ["/accessibility/"]
    wrong = models.FaultSeen(says="The fees are a scan.", row=0)
    answer(rake, "documents", None, "fault", wrong)
    answer(rake, "statement", None, "fine")
    assert [path for path, *_ in seen(rake)] == ["/"]
    pages.write("/", PAGES["/"] + "<p><a href=/map.pdf>The map</a></p>")
    swept(rake)
    assert states(rake) == {
        (None, "documents"): ("fault", True),
        (None, "statement"): ("fine", False),
    }
    assert rake.reviews.question(SITE, "documents").changed == models.WhatChanged(
        more=["“The map” (address /map.pdf)"], less=[]
    )


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        ({"answer": "fault"}, 422, "say what is wrong"),
        ({"answer": "fine", "faults": [{"says": "No."}]}, 422, "only 'fault' has any"),
        ({"answer": "fault", "faults": [{"says": "No.", "row": 99}]}, 422, "there is no row 99"),
        ({"answer": "fine", "shown_key": "other"}, 409, "look again"),
        ({"answer": "fine", "question": "nonsense"}, 404, "is not asked about /locks/"),
        ({"answer": "perhaps"}, 422, "answer"),
    ],
)
def test_answers_that_are_refused(
    rake: PlumRake, body: dict[str, object], status: int, says: str
) -> None:
    key = rake.reviews.question(SITE, "picture-texts", path="/locks/").shown_key
    given = {"path": "/locks/", "question": "picture-texts", "shown_key": key, **body}
    with pytest.raises(PlumRakeError) as refused:
        rake.request("POST", f"/api/v1/sites/{SITE}/review/answers", json=given)
    assert refused.value.status == status
    assert says in str(refused.value)
    assert states(rake) == {}


def test_account_and_statement_by_the_facts(rake: PlumRake, imke: PlumRake) -> None:
    """The account says what people saw and what was not asked; a statement is proposed from it,
    edited, published, and kept."""
    wrong = models.FaultSeen(says="The picture shows a lock.", weight="barrier", row=0)
    answer(rake, "picture-texts", "/locks/", "fault", wrong)
    text = rake.exports.account(SITE, "md")
    assert "Seen by a person: The picture shows a lock." in text
    assert re.search(r"1\.1\.1 Non-text Content \(A\) .* 1 of \d+ answered, 1 fault seen", text)
    assert "Small" in rake.exports.account(None, "html")
    proposed = rake.statements.propose(SITE, "de")
    assert proposed.conformance == "partial"
    assert "1.1.1 Nicht-Text-Inhalt" in proposed.body
    made = rake.statements.write(SITE, models.NewStatement(language="de", body=proposed.body))
    with pytest.raises(PlumRakeError) as refused:
        rake.statements.publish(SITE, made.id)
    assert "something is left to be filled in" in str(refused.value)
    filled = re.sub(r"\[[^\]]*\]", "die Schlichtungsstelle", proposed.body)
    second = rake.statements.write(SITE, models.NewStatement(language="de", body=filled))
    assert rake.statements.publish(SITE, second.id).published_by == "Philippa Wren"
    assert [one.id for one in rake.statements.list(SITE)] == [second.id, made.id]
    assert "<h1>Erklärung zur Barrierefreiheit</h1>" in rake.statements.text(SITE, second.id)
    with pytest.raises(PlumRakeError) as not_hers:
        imke.statements.publish(SITE, made.id)
    assert not_hers.value.status == 403


def test_an_old_statement_is_asked_about(rake: PlumRake, database: str) -> None:
    """What was published longer ago than the policy says lets the answer lapse, and says why."""
    answer(rake, "statement", None, "fine")
    made = rake.statements.write(SITE, models.NewStatement(language="en", body="# Statement"))
    rake.statements.publish(SITE, made.id)
    swept(rake)
    assert states(rake) == {(None, "statement"): ("fine", False)}
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE statement SET published_at = now() - interval '14 months'")
    swept(rake)
    assert states(rake) == {(None, "statement"): ("fine", True)}
    changed = rake.reviews.question(SITE, "statement").changed
    assert changed is not None
    assert "is older than 12 months" in changed.more[0]
