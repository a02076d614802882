"""Commands about people, groups, areas of responsibility, and what is sent to whom."""

from __future__ import annotations

import click

from plumrake import models
from plumrake.cli.connection import served, signed_in
from plumrake.cli.errors import Exit, fail
from plumrake.cli.shared import (
    as_json_option,
    counted,
    group_named,
    owner_choice,
    person_named,
    print_json,
)
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

NO_ROLE = "none"
ROLE = click.Choice(["manager", "editor", "developer", "reader"])


AREAS = click.option(
    "--area",
    "areas",
    multiple=True,
    metavar="PATTERN",
    help="Only for these pages of the site, as '/boating/*'; repeatable.",
)


@click.group("person")
def person_group() -> None:
    """People: invite, list, change."""


@person_group.command("add")
@click.argument("email")
@click.option("--name", required=True)
@click.option("--role", type=ROLE, default="editor", show_default=True)
@click.option("--site", metavar="SITE", help="Only in this site; without it in every one.")
@AREAS
@served
def add_person(
    rake: PlumRake,
    email: str,
    name: str,
    role: models.Role,
    site: str | None,
    areas: tuple[str, ...],
) -> None:
    """Invite somebody by EMAIL: prints the address where they choose a password; it holds for two
    weeks."""
    invitation = rake.people.invite(email, name, role, site, areas)
    echo(
        f"{name} comes in, until {invitation.expires_at:%Y-%m-%d}, at "
        f"{rake.server}/invitation#{invitation.secret}"
    )


@person_group.command("list")
@as_json_option
@served
def list_people(rake: PlumRake, as_json: bool) -> None:
    """List everybody, and who is invited."""
    found = list(rake.people.list())
    if as_json:
        print_json(found)
        return
    for person in found:
        shut_out = "" if person.active else "  (may not sign in)"
        echo(f"{person.name:<24}{person.role or 'by site':<11}{person.email}{shut_out}")
    if rake.people.me().role == "manager":
        for invitation in rake.people.invitations():
            to = f" to {invitation.site}" if invitation.site is not None else ""
            to += f", {' '.join(invitation.areas)}" if invitation.areas else ""
            echo(
                f"{invitation.name:<24}{invitation.role:<11}{invitation.email}  (invited{to}, "
                f"until {invitation.expires_at:%Y-%m-%d})"
            )


@person_group.command("uninvite")
@click.argument("email")
@served
def uninvite(rake: PlumRake, email: str) -> None:
    """Take the invitation to EMAIL back: its address lets nobody in any more."""
    invited = (one for one in rake.people.invitations() if one.email.lower() == email.lower())
    if (invitation := next(invited, None)) is None:
        fail(f"nobody is invited by '{email}'; 'plumrake person list' shows who is", Exit.USAGE)
    rake.people.drop_invitation(invitation.id)
    echo(f"{invitation.name} is not invited any more")


@person_group.command("edit")
@click.argument("person")
@click.option("--name")
@click.option(
    "--role",
    type=click.Choice([*ROLE.choices, NO_ROLE]),
    help="In every site; none: only in the sites that they are members of.",
)
@click.option("--active/--inactive", default=None, help="May sign in, or may not any more.")
@served
def edit_person(
    rake: PlumRake, person: str, name: str | None, role: str | None, active: bool | None
) -> None:
    """Change PERSON (e-mail address, or what stands before its @)."""
    given = {
        key: value
        for key, value in (("name", name), ("role", role), ("active", active))
        if value is not None
    }
    if not given:
        fail("nothing to change was said; see 'plumrake person edit --help'", Exit.USAGE)
    changed = rake.people.change(
        person_named(rake, person).id, models.PersonChange.model_validate(given)
    )
    role_now = f"is {changed.role}" if changed.role else "has a role only where they are a member"
    echo(f"{changed.name} {role_now}{'' if changed.active else ' and may not sign in'}")


@person_group.command("forget")
@click.argument("person")
@click.confirmation_option(
    prompt="Who they were cannot be brought back. Forget them?", help="Do not ask."
)
@served
def forget_person(rake: PlumRake, person: str) -> None:
    """Forget who PERSON was, for good: name, e-mail address, all that lets them in. What they did
    stays in the history, by a number."""
    known = person_named(rake, person)
    rake.people.forget(known.id)
    echo(f"number {known.id} is somebody who is gone now")


@click.group("group")
def people_group() -> None:
    """Groups of people, who own fixes together."""


@people_group.command("list")
@as_json_option
@served
def list_groups(rake: PlumRake, as_json: bool) -> None:
    """List the groups with their people."""
    found = list(rake.people.groups())
    if as_json:
        print_json(found)
        return
    names = {person.id: person.name for person in rake.people.list()}
    for group in found:
        echo(f"{group.name}: {', '.join(names[member] for member in group.members) or 'nobody'}")
    if not found:
        echo("no group")


@people_group.command("set")
@click.argument("name")
@click.argument("people", nargs=-1, metavar="PERSON...")
@served
def set_group(rake: PlumRake, name: str, people: tuple[str, ...]) -> None:
    """Make a group, or say anew who is in it."""
    members = [person_named(rake, person).id for person in people]
    known = next(
        (group for group in rake.people.groups() if group.name.casefold() == name.casefold()), None
    )
    group = (
        rake.people.add_group(name, members)
        if known is None
        else rake.people.set_members(known.id, members)
    )
    echo(f"{group.name} has {counted(len(group.members), 'person', 'people')}")


@people_group.command("drop")
@click.argument("name")
@served
def drop_group(rake: PlumRake, name: str) -> None:
    """Forget a group; its areas and fixes belong to nobody then."""
    rake.people.drop_group(group_named(rake, name).id)
    echo(f"{name} is dropped")


@click.group("responsible")
def responsible_group() -> None:
    """Who answers for which area of a site."""


@responsible_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_parts(rake: PlumRake, site: str, as_json: bool) -> None:
    """List who is responsible for what in SITE; the most specific pattern wins."""
    found = list(rake.people.responsibilities(site))
    if as_json:
        print_json(found)
        return
    for area in found:
        echo(f"{area.pattern:<30}{area.owner}")
    if not found:
        echo(
            f"nobody answers for an area of {site}; 'plumrake responsible assign {site} "
            "/news/* PERSON' says who does"
        )


@responsible_group.command("assign")
@click.argument("site")
@click.argument("pattern")
@click.argument("person", required=False)
@click.option("--group", metavar="GROUP", help="A group instead of a person.")
@served
def assign_responsibility(
    rake: PlumRake, site: str, pattern: str, person: str | None, group: str | None
) -> None:
    """Say who answers for PATTERN ('/news/*', or 'template' for what templates print); without
    anybody the area is dropped."""
    owner = owner_choice(rake, person, group) or models.OwnerChoice()
    rake.people.assign_responsibility(site, pattern, person=owner.person_id, group=owner.group_id)
    echo(f"{pattern} of {site}: {person or group or 'nobody'}")


@click.command("notifications")
@click.option("--all", "everything", is_flag=True, help="Those that you have seen too.")
@as_json_option
@served
def notifications_command(rake: PlumRake, everything: bool, as_json: bool) -> None:
    """List what you were told, and mark it as seen."""
    found = list(rake.notifications.notifications(unread=None if everything else True))
    if as_json:
        print_json(found)
    else:
        for one in found:
            said = f": {one.by + ': ' if one.by else ''}{one.why}" if one.why else ""
            echo(
                f"{one.at:%Y-%m-%d %H:%M}  {one.kind.replace('_', ' ')}  fix {one.fix_id}, "
                f"{one.path}\n{'':>18}{one.says}{said}"
            )
        if not found:
            echo("nothing new")
    if found:
        rake.notifications.seen(found[0].id)


@click.group("webhook")
def webhook_group() -> None:
    """Addresses of programs that hear of a site's events."""


@webhook_group.command("add")
@click.argument("site")
@click.argument("address")
@click.option(
    "--kind",
    "kinds",
    multiple=True,
    metavar="EVENT",
    help="Only this event, as fix.reopened or sweep.done; repeatable.",
)
@served
def add_webhook(rake: PlumRake, site: str, address: str, kinds: tuple[str, ...]) -> None:
    """Send SITE's events to ADDRESS, signed by the Standard Webhooks specification."""
    made = rake.notifications.add_webhook(site, address, kinds)
    echo(f"webhook {made.id}; its secret, shown this once: {made.secret}")


@webhook_group.command("list")
@click.argument("site")
@as_json_option
@served
def list_webhooks(rake: PlumRake, site: str, as_json: bool) -> None:
    """List SITE's webhooks."""
    found = list(rake.notifications.webhooks(site))
    if as_json:
        print_json(found)
        return
    for one in found:
        echo(f"{one.id:>6}  {one.address}  {', '.join(one.kinds) or 'every event'}")
    if not found:
        echo("no webhook")


@webhook_group.command("drop")
@click.argument("site")
@click.argument("number", type=int)
@served
def drop_webhook(rake: PlumRake, site: str, number: int) -> None:
    """End a webhook."""
    rake.notifications.end_webhook(site, number)
    echo(f"webhook {number} is dropped")


@webhook_group.command("log")
@click.argument("site")
@click.option("--again", type=int, metavar="NUMBER", help="Try this delivery again at once.")
@as_json_option
@served
def webhook_log(rake: PlumRake, site: str, again: int | None, as_json: bool) -> None:
    """List what was sent to SITE's webhooks, and how it went."""
    if again is not None:
        rake.notifications.send_again(site, again)
        echo(f"delivery {again} is tried again")
        return
    found = list(rake.notifications.deliveries(site))
    if as_json:
        print_json(found)
        return
    for one in found:
        went = (
            "delivered"
            if one.delivered_at
            else "given up"
            if one.given_up_at
            else f"tried again at {one.next_at:%H:%M:%S}"
            if one.attempts
            else "waits"
        )
        echo(
            f"{one.id:>6}  {one.made_at:%Y-%m-%d %H:%M}  {one.kind:<18}{one.address}  "
            f"{went}{f': {one.problem}' if one.problem else ''}"
        )
    if not found:
        echo("nothing was sent yet")


@click.group("token")
def token_group() -> None:
    """Tokens for programs: make, list, revoke."""


@token_group.command("make")
@click.argument("name")
@click.option("--gate", metavar="SITE", help="May ask the gate of SITE, and nothing else.")
@click.option("--write", is_flag=True, help="May write too; default: read alone.")
@click.option(
    "--site",
    "sites",
    multiple=True,
    metavar="SITE",
    help="For this site alone; repeatable. Default: every site of yours.",
)
@click.option("--days", type=int, default=90, show_default=True, help="After how many it ends.")
@click.option("--ends-with-password", is_flag=True, help="Void once you change your password.")
@click.option(
    "--password", prompt="Your password", hide_input=True, envvar="PLUMRAKE_PASSWORD", metavar=""
)
@served
def make_token(
    rake: PlumRake,
    name: str,
    gate: str | None,
    write: bool,
    sites: tuple[str, ...],
    days: int,
    ends_with_password: bool,
    password: str,
) -> None:
    """Make a token called NAME; its secret is shown this once. Asks for your password."""
    if gate is not None and (write or sites):
        fail("a token for the gate does nothing else: leave --write and --site out", Exit.USAGE)
    scopes: list[models.Scope] = ["gate"] if gate is not None else ["read"]
    if write:
        scopes.append("write")
    with signed_in(rake.server, rake.people.me().email, password) as confirmed:
        made = confirmed.people.make_token(
            name,
            scopes,
            *((gate,) if gate is not None else sites),
            days=days,
            ends_with_password=ends_with_password,
        )
        confirmed.people.sign_out()
    echo(
        f"token {made.id}, '{made.name}', until {made.expires_at:%Y-%m-%d}; its secret is shown "
        f"this once:\n{made.secret}"
    )


@token_group.command("list")
@as_json_option
@served
def list_tokens(rake: PlumRake, as_json: bool) -> None:
    """List one's own tokens."""
    found = list(rake.people.tokens())
    if as_json:
        print_json(found)
        return
    for one in found:
        used = f"used {one.last_used_at:%Y-%m-%d}" if one.last_used_at else "never used"
        sites = f" of {', '.join(one.sites) or 'no site any more'}" if one.sites is not None else ""
        echo(
            f"{one.id:>6}  {one.name}: {', '.join(one.scopes)}{sites}, until "
            f"{one.expires_at:%Y-%m-%d}, {used}"
        )
    if not found:
        echo("no token; 'plumrake token make' makes one")


@token_group.command("revoke")
@click.argument("number", type=int)
@served
def revoke_token(rake: PlumRake, number: int) -> None:
    """Make a token of one's own invalid."""
    rake.people.revoke_token(number)
    echo(f"token {number} works no more")
