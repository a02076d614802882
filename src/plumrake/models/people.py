"""People: members of sites, invitations, groups, areas of responsibility."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import (
    Answer,
    Area,
    ChosenPassword,
    Line,
    Model,
    OwnerChoice,
    Pattern,
    Role,
    Short,
    Slug,
    must,
)

Areas = Annotated[list[Area], Field(max_length=50)]
Email = Annotated[str, Short, must(r"[^\s@]+@[^\s@]+", "is no e-mail address")]


class Person(Answer):
    """A person; without ``active`` they cannot sign in. ``role`` is theirs in every site where they
    are not a member with another; null: they are only where they are a member. ``digest`` and
    ``immediately`` say which e-mails they get."""

    id: int
    email: str
    name: str
    role: Role | None
    active: bool
    digest: bool
    immediately: bool


class PersonChange(Model):
    """What is to be different of a person; fields left out stay as they are. The role ``none``
    leaves them the sites that they are members of."""

    name: Line | None = None
    role: Role | Literal["none"] | None = None
    active: bool | None = None


class Member(Answer):
    """A person in a site, with their role in it, and the areas of it that they are there for; null:
    all of it. ``is_everywhere``: it is the role that they have in every site."""

    id: int
    name: str
    email: str
    active: bool
    role: Role
    areas: list[str] | None = None
    is_everywhere: bool


class NewMember(Model):
    """Who is to be in a site, by the e-mail address that they sign in with, and as what; with
    ``areas`` for these alone."""

    email: Email
    role: Role
    areas: Areas = Field(default=[])


class Preferences(Model):
    """Which e-mails one wants: the daily one, and those that are not to wait (mentions, faults that
    are still there)."""

    digest: bool | None = None
    immediately: bool | None = None


class NewInvitation(Model):
    """Whom to invite, and as what: to one ``site``, with ``areas`` to these alone, or to every
    one."""

    email: Email
    name: Line
    role: Role
    site: Slug | None = None
    areas: Areas = Field(default=[])


class Invitation(Answer):
    """An invitation that nobody has taken up, to one ``site``, to ``areas`` of it, or to every one;
    ``secret`` is there once, when it is made."""

    id: int
    email: str
    name: str
    role: Role
    site: str | None = None
    areas: list[str] | None = None
    created_at: datetime
    expires_at: datetime
    secret: str | None = None


class Acceptance(Model):
    """An invitation's secret, and the password to sign in with."""

    secret: Annotated[str, StringConstraints(max_length=200)]
    password: ChosenPassword


class NewGroup(Model):
    """A group of people."""

    name: Line
    members: list[int] = Field(default=[], max_length=1000)


class Members(Model):
    """Who is in a group, by number."""

    members: list[int] = Field(max_length=1000)


class Group(Answer):
    """A group with the numbers of its people."""

    id: int
    name: str
    members: list[int]


class PartChoice(Model):
    """An area of a site (a path in which ``*`` stands for anything, or ``template``) and who is to
    answer for it."""

    pattern: Pattern
    owner: OwnerChoice


class Responsibility(Answer):
    """An area of a site and who answers for it; the most specific pattern wins."""

    pattern: str
    owner_id: int | None
    group_id: int | None
    owner: str


class Feed(Answer):
    """The address of one's desk as an Atom feed; whoever knows it can read it."""

    address: str
