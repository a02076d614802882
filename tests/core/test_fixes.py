"""Fixes: every state, move and role; what a reading decides; who answers for what."""

from itertools import product

import pytest

from plumrake.core.fixes import LIVE, ROLES, Move, MoveRefused, Seen, Standing, State, may, moved, open_moves, verdict
from plumrake.core.parts import Part, matches, owner_of, part_of

TABLE = """
take        open returned                      in_hand    manager +editor +developer
put_back    in_hand                            open       manager +editor +developer
assign      open in_hand handed_in returned    *          manager
due         open in_hand handed_in returned    =          manager
note        any                                =          manager editor developer
propose     open in_hand returned              =          manager editor developer
hand_in     open in_hand returned              handed_in  manager +editor +developer
withdraw    handed_in                          in_hand    manager +editor +developer
waive       open in_hand handed_in returned    waived     manager
end_waiver  waived                             open       manager clock
prove       open in_hand handed_in returned    proven     reading
return      handed_in proven                   returned   reading
void        open in_hand handed_in returned    void       reading
reopen      void                               open       reading
"""
"""Move, from which states, to which (``=`` stays, ``*`` stays but for in_hand, which opens), by whom; ``+`` only as owner."""


def expected() -> dict[str, tuple[set[str], str, set[str], set[str]]]:
    """Return the table: move to origins, target, roles, and roles as owner only."""
    found = {}
    targets = {"=", "*", *(state.value for state in State)}
    for line in TABLE.strip().splitlines():
        move, *words = line.split()
        at = max(number for number, word in enumerate(words) if word in targets and not set(words[number + 1 :]) & targets)
        origins, to, who = words[:at], words[at], words[at + 1 :]
        states = {state.value for state in State} if origins == ["any"] else set(origins)
        roles = {word for word in who if not word.startswith("+")}
        found[move] = (states, to, roles, {word[1:] for word in who if word.startswith("+")})
    return found


RULES = expected()


@pytest.mark.parametrize(("state", "move", "role", "owns"), [*product(State, Move, ROLES, (False, True))])
def test_every_state_move_and_role(state: State, move: Move, role: str, owns: bool) -> None:
    """Each of them is either made, leading where the table says, or refused with the code that says why."""
    origins, to, roles, owners = RULES[move.value]
    allowed = role in roles or (owns and role in owners)
    who = Standing(role, owns)
    assert may(move, who) == allowed
    assert (move in open_moves(state, who)) == (allowed and state.value in origins)
    if allowed and state.value in origins:
        target = state if to == "=" or (to == "*" and state is not State.IN_HAND) else State.OPEN if to == "*" else State(to)
        assert moved(state, move, who) is target
        return
    with pytest.raises(MoveRefused) as caught:
        moved(state, move, who)
    assert caught.value.code == ("wrong-state" if allowed else "move-not-allowed")


def test_what_nobody_has_is_there_to_be_taken() -> None:
    """An editor takes a fix without owner, and does nothing else with it; somebody else's is left alone; a reader takes nothing."""
    nobodys = Standing("editor", unowned=True)
    assert Move.TAKE in open_moves(State.OPEN, nobodys)
    assert Move.HAND_IN not in open_moves(State.OPEN, nobodys)
    assert Move.TAKE not in open_moves(State.OPEN, Standing("editor"))
    assert open_moves(State.OPEN, Standing("reader", unowned=True)) == []


def test_policy_may_let_others_grant_waivers() -> None:
    """Where policy names their role, editors waive, and do nothing else that they might not do before."""
    named, plain = open_moves(State.OPEN, Standing("editor", grants=True)), open_moves(State.OPEN, Standing("editor"))
    assert set(named) - set(plain) == {Move.WAIVE}
    assert moved(State.OPEN, Move.WAIVE, Standing("editor", grants=True)) is State.WAIVED


def test_refusals_say_who_may_and_when() -> None:
    """A person who reads the refusal knows what to do."""
    with pytest.raises(MoveRefused, match="'hand in' is for its owner or a manager; you are an editor and do not own this fix"):
        moved(State.OPEN, Move.HAND_IN, Standing("editor"))
    with pytest.raises(MoveRefused, match="'take' needs a fix that is open, returned; this one is proven"):
        moved(State.PROVEN, Move.TAKE, Standing("editor", owns=True))


@pytest.mark.parametrize("state", State)
def test_one_faulty_place_keeps_a_fix_from_being_proven(state: State) -> None:
    """Where the fault is seen, handed in and proven fixes come back, void ones open, and nothing else moves."""
    expected = {State.HANDED_IN: Move.RETURN, State.PROVEN: Move.RETURN, State.VOID: Move.REOPEN}
    assert verdict(state, Seen(there=1, read=300, gone=0, unread=0)) is expected.get(state)


@pytest.mark.parametrize("state", State)
def test_only_a_whole_reading_proves(state: State) -> None:
    """All pages read and clean: proven. All gone: void. A page that was not read keeps the question open."""
    live = state in LIVE
    assert verdict(state, Seen(there=0, read=3, gone=0, unread=0)) is (Move.PROVE if live else None)
    assert verdict(state, Seen(there=0, read=2, gone=1, unread=0)) is (Move.PROVE if live else None)
    assert verdict(state, Seen(there=0, read=0, gone=2, unread=0)) is (Move.VOID if live else None)
    assert verdict(state, Seen(there=0, read=2, gone=0, unread=1)) is None
    assert verdict(state, Seen(there=0, read=0, gone=0, unread=0)) is None


def test_most_specific_part_wins() -> None:
    """More letters beside the stars win; the template's faults are its owner's on whatever page; else most pages decide."""
    parts = [Part("/*", 1), Part("/news/*", 2), Part("/news/2026/*", 3), Part("template", 4)]
    assert part_of("/news/2026/otters/", parts) == parts[2]
    assert part_of("/about/", parts) == parts[0]
    assert owner_of(["/news/a/"], parts, by_template=True) == 4
    assert owner_of(["/news/a/"], parts[:3], by_template=True) == 2
    assert owner_of(["/about/", "/news/a/", "/news/b/"], parts, by_template=False) == 2
    assert owner_of(["/about/"], parts[1:], by_template=False) is None
    assert matches("/de/*/karte/", "/de/besuch/karte/")
    assert not matches("/de.*", "/dex")
