"""A policy explained field by field, and what another one would do to a sweep."""

from __future__ import annotations

from plumrake.core.decisions import DecidedFinding
from plumrake.core.policy import Policy
from plumrake.core.policy_fields import FIELDS, GATE_FIELDS, PageCounts, try_policy

VAGUE = DecidedFinding("links/vague", "obstacle", "failed")
PAGES = [
    PageCounts("/", "", True, True, ()),
    PageCounts(
        "/fees/", "", True, True, (DecidedFinding("links/raw-address", "friction", "failed"),)
    ),
    PageCounts("/locks/", "", True, False, (VAGUE,)),
    PageCounts(
        "/boats/",
        "date-archive",
        True,
        False,
        (DecidedFinding("pictures/no-text", "barrier", "failed"), VAGUE),
    ),
    PageCounts("/gone/", "", False, False, ()),
]


def test_every_field_is_explained() -> None:
    """Nothing of a policy is without its explanation, but the gate, whose rules have a place of
    their own."""
    assert {field.name.replace("-", "_") for field in FIELDS} == set(Policy.model_fields) - {"gate"}
    assert all(
        field.title and len(field.says) > 30 and field.says.endswith(".")
        for field in (*FIELDS, *GATE_FIELDS)
    )


def test_fields_know_their_kind() -> None:
    """Choices, days, numbers and lists are told from the definition."""
    kinds = {field.name: (field.kind, field.choices[:1]) for field in (*FIELDS, *GATE_FIELDS)}
    assert kinds["level"] == ("choice", ("a",))
    assert kinds["waivers-by"] == ("choices", ("manager",))
    assert kinds["palette"] == ("texts", ())
    assert kinds["words"] == ("words", ("vague-links",))
    assert kinds["parameters"] == ("parameters", ())
    assert kinds["due-days"] == kinds["valid-minutes"] == ("number", ())
    assert kinds["from"] == kinds["old-from"] == ("day", ())
    assert kinds["frame"] == ("text", ())


def test_stricter_and_milder_rules() -> None:
    """What holds more makes fewer pages ready, what holds less more; a page that was not read is
    never ready."""
    stricter = try_policy(PAGES, Policy(), Policy(hold="friction"))
    assert (stricter.pages, stricter.ready_before, stricter.ready_after, stricter.held) == (
        5,
        2,
        1,
        ("/fees/",),
    )
    milder = try_policy(PAGES, Policy(), Policy(hold="barrier"))
    assert (milder.ready_after, milder.freed) == (3, ("/locks/",))
    nothing = try_policy(PAGES, Policy(), Policy(hold="none"))
    assert (nothing.ready_after, nothing.freed) == (4, ("/locks/", "/boats/"))


def test_pages_that_are_left_out_are_not_counted() -> None:
    """They are neither ready nor held, and come back with what was found on them."""
    without = Policy(leave_out_pages=("/boats/*", "/fees/"))
    trial = try_policy(PAGES, Policy(), without)
    assert (trial.pages, trial.ready_before, trial.ready_after, trial.held) == (3, 2, 1, ())
    assert trial.needs_sweep == ()
    by_kind = try_policy(PAGES, Policy(), Policy(leave_out_kinds=("date-archive",)))
    assert (by_kind.pages, by_kind.ready_after, by_kind.needs_sweep) == (4, 2, ())
    settled = [
        PageCounts(one.path, one.kind, one.read, one.read, one.findings) for one in PAGES[3:4]
    ]
    back = try_policy(settled, without, Policy())
    assert (back.pages, back.ready_before, back.ready_after, back.held) == (1, 0, 0, ("/boats/",))


def test_checks_that_are_switched_off() -> None:
    """A check or a whole area that is off no longer holds; nothing has to be read again for
    that."""
    trial = try_policy(PAGES, Policy(), Policy(without=("links",)))
    assert (trial.freed, trial.needs_sweep) == (("/locks/",), ())


def test_what_only_a_new_sweep_can_tell_is_said() -> None:
    """Scope, words, a stricter level, and checks that were off cannot be told from what was
    found."""
    assert try_policy(PAGES, Policy(), Policy(leave_out=("footer",))).needs_sweep == ("leave-out",)
    assert try_policy(PAGES, Policy(), Policy(level="aaa")).needs_sweep == ("level",)
    assert try_policy(PAGES, Policy(without=("links/vague",)), Policy()).needs_sweep == ("without",)
    assert try_policy(PAGES, Policy(), Policy(due_days=3, hold="none")).needs_sweep == ()
