"""People, invitations, groups and members of sites."""

from __future__ import annotations

import secrets
from collections.abc import Sequence

from plumrake.actions.passwords import hashed
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import secret_hash
from plumrake.records import members, people, sign_ins
from plumrake.records.people import InvitationRow, PersonRow
from plumrake.records.queries import Connection

_INVITED_DAYS = 14
NO_ROLE = "none"
"""Of every site: somebody is only where they are a member."""


class EmailTaken(ValueError):
    """Somebody has this e-mail address already."""

    code = "email-taken"


class LastManager(ValueError):
    """Without this person nobody could manage."""

    code = "last-manager"


class BadAreas(ValueError):
    """The areas do not go with the role, or have no site."""

    code = "not-valid"


class BadInvitation(LookupError):
    """The invitation is unknown, over, or taken up."""

    code = "no-such-invitation"


class GroupTaken(ValueError):
    """A group has this name already."""

    code = "group-taken"


async def add_person(
    connection: Connection, email: str, name: str, role: str | None, password: str
) -> PersonRow:
    """Add a person who can sign in. Raises ``EmailTaken``, ``WeakPassword``."""
    return await add_hashed(connection, email, name, role, await hashed(password, (name, email)))


async def add_hashed(
    connection: Connection, email: str, name: str, role: str | None, password_hash: str
) -> PersonRow:
    """Add a person whose password was hashed before. Raises ``EmailTaken``."""
    person = await people.add_person(connection, email, name, role, password_hash)
    if person is None:
        raise EmailTaken(f"somebody has the e-mail address {email} already; choose another")
    return person


async def invite(
    connection: Connection,
    email: str,
    name: str,
    role: str,
    by: int,
    site_id: int | None = None,
    areas: Sequence[str] = (),
) -> tuple[InvitationRow, str]:
    """Return a new invitation, to one site, to areas of it, or to every one, which holds for two
    weeks, and its secret. Raises ``EmailTaken``, ``BadAreas``."""
    _check_areas(role, areas, has_site=site_id is not None)
    if await people.person_by_email(connection, email) is not None:
        raise EmailTaken(f"somebody has the e-mail address {email} already; choose another")
    secret = secrets.token_urlsafe(32)
    return await people.invite(
        connection, email, name, role, secret_hash(secret), by, _INVITED_DAYS, site_id, areas
    ), secret


def _check_areas(role: str, areas: Sequence[str], *, has_site: bool = True) -> None:
    if areas and role == "manager":
        raise BadAreas("areas: a manager is one of the whole site; give another role, or no areas")
    if areas and not has_site:
        raise BadAreas("areas: they are of a site; name it")


async def accept(connect: Connect, secret: str, password: str) -> PersonRow:
    """Make a person of an invitation. Raises ``BadInvitation``, ``WeakPassword``,
    ``EmailTaken``."""
    async with connect() as connection:
        invited = await _invitation(connection, secret)
    password_hash = await hashed(password, (invited.name, invited.email))
    async with connect() as connection, connection.transaction():
        invitation = await _invitation(connection, secret)
        everywhere = invitation.role if invitation.site_id is None else None
        person = await add_hashed(
            connection, invitation.email, invitation.name, everywhere, password_hash
        )
        await members.join_as_invited(connection, invitation.id, person.id)
        await people.accept_invitation(connection, invitation.id)
    return person


async def _invitation(connection: Connection, secret: str) -> InvitationRow:
    invitation = await people.invitation_by_secret(connection, secret_hash(secret))
    if invitation is None:
        raise BadInvitation("this invitation is not valid any more; ask for another")
    return invitation


async def change_person(
    connection: Connection,
    person: PersonRow,
    *,
    name: str | None,
    role: str | None,
    active: bool | None,
) -> PersonRow:
    """Change a person; one who may not sign in any more is signed out and loses their tokens. The
    role ``none`` leaves them the sites that they are members of. Raises ``LastManager``."""
    after_role = None if role == NO_ROLE else role or person.role
    after_active = person.active if active is None else active
    if after_role != "manager" or not after_active:
        await _check_not_last(connection, person)
    async with connection.transaction():
        await people.change_person(
            connection,
            person.id,
            name=name or person.name,
            role=after_role,
            active=after_active,
            digest=person.digest,
            immediately=person.immediately,
        )
        if not after_active:
            await sign_ins.end_sessions(connection, person.id)
            await sign_ins.revoke_tokens(connection, person.id)
    changed = await people.person_by_id(connection, person.id)
    assert changed is not None
    return changed


async def _check_not_last(connection: Connection, person: PersonRow) -> None:
    """Raises ``LastManager`` where nobody else could run the service."""
    is_one = person.role == "manager" and person.active
    if is_one and await people.count_managers(connection) == 1:
        raise LastManager(f"{person.name} is the only manager; make somebody else one first")


async def forget_person(connection: Connection, person: PersonRow) -> None:
    """Forget who somebody was, for good; the history stays readable and leaves them unnamed. Raises
    ``LastManager``."""
    await _check_not_last(connection, person)
    await people.unname(connection, person.id)


class NoSuchPerson(ValueError):
    """Somebody who is named is not there."""

    code = "not-valid"


async def set_members(connection: Connection, group_id: int, members: list[int]) -> None:
    """Say who is in a group. Raises ``NoSuchPerson``, and nothing is changed then."""
    known = {person.id for person in await people.all_people(connection)}
    unknown = next((member for member in members if member not in known), None)
    if unknown is not None:
        raise NoSuchPerson(f"members: there is no person {unknown}")
    await people.set_members(connection, group_id, members)


async def add_group(connection: Connection, name: str, members: list[int]) -> int:
    """Add a group with its people. Raises ``GroupTaken``."""
    async with connection.transaction():
        group_id = await people.add_group(connection, name)
        if group_id is None:
            raise GroupTaken(f"a group is called '{name}' already; choose another name")
        await set_members(connection, group_id, members)
    return group_id


async def make_feed(connection: Connection, person_id: int) -> str:
    """Return the secret of a new address for somebody's feed; an older one works no more."""
    secret = secrets.token_urlsafe(24)
    await people.set_feed(connection, person_id, secret_hash(secret))
    return secret


async def add_member(
    connection: Connection,
    site_id: int,
    email: str,
    role: str,
    by: int,
    areas: Sequence[str] = (),
) -> PersonRow:
    """Give somebody who can sign in a role in a site, or in areas of it (patterns of paths).
    Raises ``NoSuchPerson`` (accounts are made by who runs the service, who knows whose an e-mail
    address is), ``BadAreas``."""
    _check_areas(role, areas)
    person = await people.person_by_email(connection, email)
    if person is None or not person.active:
        raise NoSuchPerson(
            f"email: nobody signs in with {email}; who runs the service can invite them"
        )
    await members.put(connection, person.id, site_id, role, by, areas)
    return person
