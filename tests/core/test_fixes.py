"""Fixes: every state, move and role; what a reading decides; who answers for what."""

from itertools import product

import pytest

from plumrake.core.fixes import (
    LIVE,
    ROLES,
    FixState,
    Move,
    Mover,
    MoveRefused,
    Seen,
    may,
    moved,
    open_moves,
    verdict,
)
from plumrake.core.responsibilities import Responsibility, owner_of, responsibility_for
from plumrake.path_patterns import matches

TABLE = """
take        open reopened                      in_hand    +manager +editor +developer
put_back    in_hand                            open       manager +editor +developer
assign      open in_hand handed_in reopened    *          manager
due         open in_hand handed_in reopened    =          manager
note        any                                =          manager editor developer
propose     open in_hand reopened              =          manager editor developer
hand_in     open in_hand reopened              handed_in  manager +editor +developer
withdraw    handed_in                          in_hand    manager +editor +developer
waive       open in_hand handed_in reopened    waived     manager
end_waiver  waived                             open       manager clock
prove       open in_hand handed_in reopened    proven     reading
reopen      handed_in proven                   reopened   reading
page_gone   open in_hand handed_in reopened    page_gone  reading
page_back   page_gone                          open       reading
"""
"""Move, from which states, to which (``=`` stays, ``*`` stays but for in_hand, which opens), by
whom; ``+`` only as owner."""


def expected() -> dict[str, tuple[set[str], str, set[str], set[str]]]:
    """Return the table: move to origins, target, roles, and roles as owner only."""
    found = {}
    targets = {"=", "*", *(state.value for state in FixState)}
    for line in TABLE.strip().splitlines():
        move, *words = line.split()
        at = max(
            number
            for number, word in enumerate(words)
            if word in targets and not set(words[number + 1 :]) & targets
        )
        origins, to, who = words[:at], words[at], words[at + 1 :]
        states = {state.value for state in FixState} if origins == ["any"] else set(origins)
        roles = {word for word in who if not word.startswith("+")}
        found[move] = (states, to, roles, {word[1:] for word in who if word.startswith("+")})
    return found


RULES = expected()


@pytest.mark.parametrize(
    ("state", "move", "role", "owns"), [*product(FixState, Move, ROLES, (False, True))]
)
def test_every_state_move_and_role(state: FixState, move: Move, role: str, owns: bool) -> None:
    """Each of them is either made, leading where the table says, or refused with the code that says
    why."""
    origins, to, roles, owners = RULES[move.value]
    allowed = role in roles or (owns and role in owners)
    who = Mover(role, owns)
    assert may(move, who) == allowed
    assert (move in open_moves(state, who)) == (allowed and state.value in origins)
    if allowed and state.value in origins:
        target = (
            state
            if to == "=" or (to == "*" and state is not FixState.IN_HAND)
            else FixState.OPEN
            if to == "*"
            else FixState(to)
        )
        assert moved(state, move, who) is target
        return
    with pytest.raises(MoveRefused) as caught:
        moved(state, move, who)
    assert caught.value.code == ("wrong-state" if allowed else "move-not-allowed")


def test_what_nobody_has_is_there_to_be_taken() -> None:
    """An editor takes a fix without owner, and does nothing else with it; somebody else's is left
    alone, by managers too; a reader takes nothing."""
    nobodys = Mover("editor", unowned=True)
    assert Move.TAKE in open_moves(FixState.OPEN, nobodys)
    assert Move.HAND_IN not in open_moves(FixState.OPEN, nobodys)
    assert Move.TAKE not in open_moves(FixState.OPEN, Mover("editor"))
    assert Move.TAKE in open_moves(FixState.OPEN, Mover("manager", unowned=True))
    with pytest.raises(MoveRefused, match="somebody else has this fix; 'assign' hands it to you"):
        moved(FixState.OPEN, Move.TAKE, Mover("manager"))
    assert open_moves(FixState.OPEN, Mover("reader", unowned=True)) == []


def test_policy_may_let_others_grant_waivers() -> None:
    """Where policy names their role, editors waive, and do nothing else that they might not do
    before."""
    named, plain = (
        open_moves(FixState.OPEN, Mover("editor", grants=True)),
        open_moves(FixState.OPEN, Mover("editor")),
    )
    assert set(named) - set(plain) == {Move.WAIVE}
    assert moved(FixState.OPEN, Move.WAIVE, Mover("editor", grants=True)) is FixState.WAIVED


def test_refusals_say_who_may_and_when() -> None:
    """A person who reads the refusal knows what to do."""
    with pytest.raises(
        MoveRefused,
        match="'hand in' is for its owner or a manager; you are an editor and do not own this fix",
    ):
        moved(FixState.OPEN, Move.HAND_IN, Mover("editor"))
    with pytest.raises(
        MoveRefused, match="'take' needs a fix that is open, reopened; this one is proven"
    ):
        moved(FixState.PROVEN, Move.TAKE, Mover("editor", owns=True))


@pytest.mark.parametrize("state", FixState)
def test_one_faulty_place_keeps_a_fix_from_being_proven(state: FixState) -> None:
    """Where the fault is seen, handed in and proven fixes come back, those of gone pages open, and
    nothing else moves."""
    expected = {
        FixState.HANDED_IN: Move.REOPEN,
        FixState.PROVEN: Move.REOPEN,
        FixState.PAGE_GONE: Move.PAGE_BACK,
    }
    assert verdict(state, Seen(there=1, read=300, gone=0, unread=0)) is expected.get(state)


@pytest.mark.parametrize("state", FixState)
def test_only_a_whole_reading_proves(state: FixState) -> None:
    """All pages read and clean: proven. All gone: page gone. A page that was not read keeps the
    question open."""
    live = state in LIVE
    assert verdict(state, Seen(there=0, read=3, gone=0, unread=0)) is (Move.PROVE if live else None)
    assert verdict(state, Seen(there=0, read=2, gone=1, unread=0)) is (Move.PROVE if live else None)
    assert verdict(state, Seen(there=0, read=0, gone=2, unread=0)) is (
        Move.PAGE_GONE if live else None
    )
    assert verdict(state, Seen(there=0, read=2, gone=0, unread=1)) is None
    assert verdict(state, Seen(there=0, read=0, gone=0, unread=0)) is None


def test_most_specific_part_wins() -> None:
    """More letters beside the stars win; the template's faults are its owner's on whatever page;
    else most pages decide."""
    parts = [
        Responsibility("/*", 1),
        Responsibility("/news/*", 2),
        Responsibility("/news/2026/*", 3),
        Responsibility("template", 4),
    ]
    assert responsibility_for("/news/2026/otters/", parts) == parts[2]
    assert responsibility_for("/about/", parts) == parts[0]
    assert owner_of(["/news/a/"], parts, by_template=True) == 4
    assert owner_of(["/news/a/"], parts[:3], by_template=True) == 2
    assert owner_of(["/about/", "/news/a/", "/news/b/"], parts, by_template=False) == 2
    assert owner_of(["/about/"], parts[1:], by_template=False) is None
    assert matches("/de/*/karte/", "/de/besuch/karte/")
    assert not matches("/de.*", "/dex")
