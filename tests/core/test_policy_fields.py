"""A policy explained field by field, and what another one would do to a sweep."""

from __future__ import annotations

from plumrake.core.policy import Policy
from plumrake.core.policy_fields import FIELDS, PageCounts, try_policy

PAGES = [
    PageCounts("/", True, True, ()),
    PageCounts("/fees/", True, True, (("links/raw-address", "friction"),)),
    PageCounts("/locks/", True, False, (("links/vague", "obstacle"),)),
    PageCounts("/boats/", True, False, (("pictures/no-text", "barrier"), ("links/vague", "obstacle"))),
    PageCounts("/gone/", False, False, ()),
]


def test_every_field_is_explained() -> None:
    """Nothing of a policy is without its explanation, but the gate, whose rules have a place of their own."""
    assert {field.name.replace("-", "_") for field in FIELDS} == set(Policy.__dataclass_fields__) - {"gate"}
    assert all(len(field.says) > 30 and field.says.endswith(".") for field in FIELDS)


def test_stricter_and_milder_rules() -> None:
    """What holds more makes fewer pages ready, what holds less more; a page that was not read is never ready."""
    stricter = try_policy(PAGES, Policy(), Policy(hold="friction"))
    assert (stricter.pages, stricter.ready_before, stricter.ready_after, stricter.held) == (5, 2, 1, ("/fees/",))
    milder = try_policy(PAGES, Policy(), Policy(hold="barrier"))
    assert (milder.ready_after, milder.freed) == (3, ("/locks/",))
    nothing = try_policy(PAGES, Policy(), Policy(hold="none"))
    assert (nothing.ready_after, nothing.freed) == (4, ("/locks/", "/boats/"))


def test_checks_that_are_switched_off() -> None:
    """A check or a whole area that is off no longer holds; nothing has to be read again for that."""
    trial = try_policy(PAGES, Policy(), Policy(without=("links",)))
    assert (trial.freed, trial.needs_sweep) == (("/locks/",), ())


def test_what_only_a_new_sweep_can_tell_is_said() -> None:
    """Regions, words, a stricter level, and checks that were off cannot be told from what was found."""
    assert try_policy(PAGES, Policy(), Policy(leave_out=("footer",))).needs_sweep == ("leave-out",)
    assert try_policy(PAGES, Policy(), Policy(level="aaa")).needs_sweep == ("level",)
    assert try_policy(PAGES, Policy(without=("links/vague",)), Policy()).needs_sweep == ("without",)
    assert try_policy(PAGES, Policy(), Policy(due_days=3, hold="none")).needs_sweep == ()
