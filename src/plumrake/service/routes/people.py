"""People: oneself, everybody, invitations, groups, members of sites, areas of responsibility."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path, Request, Response

from plumrake import models
from plumrake.actions import people as actions
from plumrake.actions.desk import desk_of
from plumrake.actions.secret_hashes import secret_hash
from plumrake.records import log, members, people
from plumrake.records.queries import Connection
from plumrake.reports.as_atom import Entry, to_atom
from plumrake.service.access import (
    Database,
    Lender,
    Manager,
    Operator,
    SignedIn,
    address_of,
)
from plumrake.service.idempotency import repeatable
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["people"])


@router.get("/me", operation_id="showMe")
async def show_me(who: SignedIn, database: Database) -> models.Person:
    """Show oneself with what e-mails one gets."""
    return models.Person.model_validate(await people.person_by_id(database, who.id))


@router.patch("/me", operation_id="changePreferences")
async def change_preferences(
    body: models.Preferences, who: SignedIn, database: Database
) -> models.Person:
    """Choose which e-mails one gets."""
    me = await people.person_by_id(database, who.id)
    assert me is not None
    digest, immediately = (
        (me.digest if body.digest is None else body.digest),
        (me.immediately if body.immediately is None else body.immediately),
    )
    await people.change_person(
        database,
        who.id,
        name=me.name,
        role=me.role,
        active=me.active,
        digest=digest,
        immediately=immediately,
    )
    return models.Person.model_validate(await people.person_by_id(database, who.id))


@router.post("/me/feed", operation_id="makeFeed", status_code=201)
async def make_feed(request: Request, who: SignedIn, database: Database) -> models.Feed:
    """Make an address for one's desk as an Atom feed; an older address works no more."""
    secret = await actions.make_feed(database, who.id)
    return models.Feed(
        address=f"{request.app.state.settings.console_address}/api/v1/feeds/{secret}.atom"
    )


@router.delete("/me/feed", operation_id="endFeed", status_code=204)
async def end_feed(who: SignedIn, database: Database) -> None:
    """Let the address of one's feed work no more."""
    await people.set_feed(database, who.id, None)


@router.get("/feeds/{secret}.atom", operation_id="readFeed", response_class=Response)
async def read_feed(
    request: Request, secret: Annotated[str, Path(max_length=100)], database: Database
) -> Response:
    """Give somebody's desk as an Atom feed (RFC 4287); the address is the key."""
    person = await people.person_by_feed(database, secret_hash(secret))
    if person is None:
        raise not_found("feed", "at this address")
    await log.act_as(database, person.id, address_of(request))
    desk = await desk_of(database, person.id)
    fixes = [
        Entry(**{name: getattr(fix, name) for name in Entry.__slots__})
        for page in desk.pages
        for fix in page.fixes
    ]
    return Response(
        to_atom(person.id, person.name, fixes, request.app.state.settings.console_address),
        media_type="application/atom+xml",
    )


@router.get("/people", operation_id="listPeople")
async def list_people(who: SignedIn, database: Database) -> models.Listing[models.Person]:
    """List by name everybody who is in a site that is there for the caller."""
    known = await members.known_to(database, who.id)
    return models.Listing(
        items=[
            models.Person.model_validate(person)
            for person in await people.all_people(database)
            if person.id in known
        ]
    )


@router.patch("/people/{person_id}", operation_id="changePerson")
async def change_person(
    person_id: int, body: models.PersonChange, who: Operator, database: Database
) -> models.Person:
    """Change a person's name, their role in every site, or whether they may sign in."""
    person = await people.person_by_id(database, person_id)
    if person is None:
        raise not_found("person", person_id)
    changed = await actions.change_person(
        database, person, name=body.name, role=body.role, active=body.active
    )
    return models.Person.model_validate(changed)


@router.delete("/people/{person_id}", operation_id="forgetPerson", status_code=204)
async def forget_person(person_id: int, who: Operator, database: Database) -> None:
    """Forget who a person was, for good: name, e-mail address, all that lets them in. What they did
    stays, by a number."""
    person = await people.person_by_id(database, person_id)
    if person is None:
        raise not_found("person", person_id)
    await actions.forget_person(database, person)


@router.get("/invitations", operation_id="listInvitations")
async def list_invitations(who: Operator, database: Database) -> models.Listing[models.Invitation]:
    """List the invitations that nobody has taken up."""
    return models.Listing(
        items=[models.Invitation.model_validate(one) for one in await people.invitations(database)]
    )


@router.post("/invitations", operation_id="invite", status_code=201)
async def invite(
    body: models.NewInvitation, who: Operator, database: Database
) -> models.Invitation:
    """Invite somebody; the secret for ``/invitations/accept`` is in this answer and never again."""
    site = await site_or_404(database, body.site) if body.site is not None else None
    site_id = site.id if site is not None else None
    invitation, secret = await actions.invite(
        database, body.email, body.name, body.role, who.id, site_id, body.areas
    )
    return models.Invitation.model_validate(invitation).model_copy(update={"secret": secret})


@router.post("/invitations/accept", operation_id="acceptInvitation", status_code=201)
async def accept_invitation(body: models.Acceptance, lend: Lender) -> models.Person:
    """Accept an invitation: choose a password; then sign in."""
    return models.Person.model_validate(await actions.accept(lend, body.secret, body.password))


@router.delete("/invitations/{invitation_id}", operation_id="dropInvitation", status_code=204)
async def drop_invitation(invitation_id: int, who: Operator, database: Database) -> None:
    """Take an invitation back."""
    if not await people.drop_invitation(database, invitation_id):
        raise not_found("invitation", invitation_id)


@router.get("/groups", operation_id="listGroups")
async def list_groups(who: SignedIn, database: Database) -> models.Listing[models.Group]:
    """List the groups with those of their people who are in a site that is there for the caller."""
    known = await members.known_to(database, who.id)
    found = [
        models.Group(
            id=group.id,
            name=group.name,
            members=[one for one in group.members if one in known],
        )
        for group in await people.groups(database)
    ]
    return models.Listing(
        items=[group for group in found if group.members or who.role == "manager"]
    )


@router.post("/groups", operation_id="addGroup", status_code=201)
@repeatable
async def add_group(body: models.NewGroup, who: Operator, database: Database) -> models.Group:
    """Add a group of people."""
    return await _group(database, await actions.add_group(database, body.name, body.members))


@router.put("/groups/{group_id}/members", operation_id="setMembers")
async def set_members(
    group_id: int, body: models.Members, who: Operator, database: Database
) -> models.Group:
    """Say who is in a group."""
    await _group(database, group_id)
    await actions.set_members(database, group_id, body.members)
    return await _group(database, group_id)


@router.delete("/groups/{group_id}", operation_id="dropGroup", status_code=204)
async def drop_group(group_id: int, who: Operator, database: Database) -> None:
    """Forget a group; its areas and fixes belong to nobody then."""
    if not await people.drop_group(database, group_id):
        raise not_found("group", group_id)


async def _group(database: Connection, group_id: int) -> models.Group:
    found = next((group for group in await people.groups(database) if group.id == group_id), None)
    if found is None:
        raise not_found("group", group_id)
    return models.Group.model_validate(found)


@router.get("/sites/{slug}/members", operation_id="listMembers")
async def list_members(
    slug: str, who: SignedIn, database: Database
) -> models.Listing[models.Member]:
    """List who is in a site, with their roles in it."""
    site = await site_or_404(database, slug)
    found = await members.members_of(database, site.id)
    return models.Listing(items=[models.Member.model_validate(one) for one in found])


@router.post("/sites/{slug}/members", operation_id="addMember", status_code=201)
async def add_member(
    slug: str, body: models.NewMember, who: Manager, database: Database
) -> models.Member:
    """Give somebody who can sign in a role in a site, or in areas of it, or another one than they
    had."""
    site = await site_or_404(database, slug)
    person = await actions.add_member(database, site.id, body.email, body.role, who.id, body.areas)
    return await _member(database, site.id, person.id)


@router.delete("/sites/{slug}/members/{person_id}", operation_id="dropMember", status_code=204)
async def drop_member(slug: str, person_id: int, who: Manager, database: Database) -> None:
    """Take somebody out of a site; what they did there stays. Who has a role in every site has that
    one again."""
    site = await site_or_404(database, slug)
    if not await members.drop(database, person_id, site.id):
        raise not_found("member", person_id)


async def _member(database: Connection, site_id: int, person_id: int) -> models.Member:
    found = await members.members_of(database, site_id)
    return models.Member.model_validate(next(one for one in found if one.id == person_id))


@router.get("/sites/{slug}/responsibilities", operation_id="listResponsibilities")
async def list_responsibilities(
    slug: str, who: SignedIn, database: Database
) -> models.Listing[models.Responsibility]:
    """List who answers for which area of a site."""
    site = await site_or_404(database, slug)
    areas = await people.responsibilities_of(database, site.id)
    return models.Listing(
        items=[
            models.Responsibility(
                pattern=one.pattern, owner_id=one.owner_id, group_id=one.group_id, owner=one.owner
            )
            for one in areas
        ]
    )


@router.put("/sites/{slug}/responsibilities", operation_id="assignResponsibility", status_code=204)
async def assign_responsibility(
    slug: str, body: models.PartChoice, who: Manager, database: Database
) -> None:
    """Say who answers for an area of a site; an area without owner is dropped."""
    site = await site_or_404(database, slug)
    person_id, group_id = body.owner.person_id, body.owner.group_id
    if person_id is not None and await members.role_in(database, person_id, site.id) is None:
        raise not_found("person", person_id)
    if group_id is not None:
        await _group(database, group_id)
    if person_id is not None and group_id is not None:
        raise Refusal(422, "not-valid", "owner: name a person or a group, not both")
    if person_id is None and group_id is None:
        await people.drop_part(database, site.id, body.pattern)
    else:
        await people.assign_responsibility(database, site.id, body.pattern, person_id, group_id)
