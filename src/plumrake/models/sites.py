"""Sites and their sweeps."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import (
    Address,
    Answer,
    Environment,
    Lens,
    Line,
    Model,
    Path,
    PolicyTable,
    Role,
    Slug,
    StatePath,
)

FoundBy = Literal["sitemap", "crawl", "both", "list", "archive"]
Schedule = Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)]


class SiteSettings(Model):
    """How a site is read: ways to find its pages, bounds, limits towards its host, schedule (cron
    pattern in UTC), policy.

    ``both`` crawls from the pages of the sitemap on; ``pause_ms`` lies between two requests,
    ``parallel`` are under way.
    """

    name: Line
    live_address: Address
    staging_address: Address | None = None
    found_by: FoundBy = "both"
    listed_paths: list[Path] = Field(default=[], max_length=100_000)
    private_leave: bool = False
    most_pages: int = Field(default=20_000, ge=1, le=200_000)
    crawl_depth: int = Field(default=20, ge=0, le=100)
    parallel: int = Field(default=4, ge=1, le=32)
    pause_ms: int = Field(default=0, ge=0, le=60_000)
    schedule: Schedule | None = None
    schedule_environment: Environment = "live"
    policy: PolicyTable = Field(default={}, description="The fields of plumrake.toml.")
    journeys: list[dict[str, Any]] = Field(
        default=[],
        max_length=50,
        description="States of pages that show only after steps; docs/journeys.md.",
    )
    second_factor_roles: list[Role] = Field(
        default=[],
        max_length=4,
        description="In which roles people need a second factor to come in here.",
    )


class NewSite(SiteSettings):
    """A site to register."""

    slug: Slug


class SiteChange(Model):
    """What is to be different of a site; fields left out stay as they are."""

    name: Line | None = None
    live_address: Address | None = None
    staging_address: Address | None = None
    found_by: FoundBy | None = None
    listed_paths: list[Path] | None = Field(default=None, max_length=100_000)
    private_leave: bool | None = None
    most_pages: int | None = Field(default=None, ge=1, le=200_000)
    crawl_depth: int | None = Field(default=None, ge=0, le=100)
    parallel: int | None = Field(default=None, ge=1, le=32)
    pause_ms: int | None = Field(default=None, ge=0, le=60_000)
    schedule: Schedule | None = None
    schedule_environment: Environment | None = None
    policy: PolicyTable | None = None
    journeys: list[dict[str, Any]] | None = Field(default=None, max_length=50)
    second_factor_roles: list[Role] | None = Field(default=None, max_length=4)


class Figures(Answer):
    """What the last finished sweep of an environment found, less what is waived or judged fine.

    Weights count ``failed`` and what was judged a fault; ``doubtful`` counts ``cantTell`` that
    nobody has answered, but for words in no dictionary, which are ``words``. ``left_out`` pages are
    those that the policy leaves out; they are not among ``pages``.
    """

    environment: Environment
    sweep_id: int
    finished_at: datetime
    pages: int
    left_out: int = 0
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    doubtful: int
    words: int = 0
    waived: int


class UnderWay(Answer):
    """A sweep that waits or runs; ``total`` is 0 while its pages are being found."""

    environment: Environment
    sweep_id: int
    state: Literal["queued", "running"]
    total: int
    read: int
    unreadable: int


class Site(Answer):
    """A registered site with the figures of each environment's last finished sweep, and the sweeps
    under way; ``tag`` goes into ``If-Match`` of a change."""

    slug: str
    name: str
    live_address: str
    staging_address: str | None
    found_by: FoundBy
    private_leave: bool
    most_pages: int
    crawl_depth: int
    parallel: int
    pause_ms: int
    schedule: str | None
    schedule_environment: Environment
    policy: PolicyTable
    journeys: list[dict[str, Any]]
    second_factor_roles: list[Role]
    created_at: datetime
    tag: str
    figures: list[Figures] = Field(default=[])
    under_way: list[UnderWay] = Field(default=[])


class NewSweep(Model):
    """A sweep to start: of all pages, of those below a section, or of given ``paths``.

    Pages that are as they were keep their findings without a browser; ``fresh`` reads them all the
    same. ``changed`` does not even ask for pages that their sitemap says are unchanged.
    """

    environment: Environment = "live"
    lens: Lens = "rendered"
    section: Path = "/"
    changed: bool = False
    fresh: bool = False
    paths: list[Path] = Field(default=[], max_length=10_000)


class HandedOver(Model):
    """A page as a test's browser showed it: the ``path`` that it stands at among the site's pages,
    of a state with its name (``/hire/#~hire-a-day-boat/summary``), its HTML, and what our collector
    told of it (JSON)."""

    path: StatePath
    source: Annotated[str, Field(max_length=5_000_000)]
    answer: Annotated[str, Field(max_length=10_000_000)]


class NewReadings(Model):
    """Pages that are handed over instead of being fetched: a sweep of them alone reads them by the
    site's policy."""

    environment: Environment = "staging"
    states: list[HandedOver] = Field(min_length=1, max_length=200)


class Sweep(Answer):
    """A sweep and how far it is.

    ``unchanged`` are pages that were as before, counted in ``read``; ``redirects`` are addresses
    that lead to other pages, ``unlisted`` pages that links lead to and the sitemap does not list;
    ``left_out`` pages are read, but not counted, by the policy; ``found`` are faults so far by
    weight; ``base_id`` is the sweep that changes are told against;
    ``rate`` is in pages/s. Of one that was forgotten for its age (``forgotten_at``) the counts are
    all that is kept.
    """

    id: int
    site: str
    environment: Environment
    lens: Lens
    section: str
    scope: Literal["all", "changed", "given"]
    fresh: bool
    state: Literal["queued", "running", "stopped", "done", "failed"]
    problem: str | None
    base_id: int | None
    total: int
    read: int
    unreadable: int
    ready: int
    unchanged: int
    redirects: int
    unlisted: int
    left_out: int
    found: dict[str, int]
    rate: float = 0.0
    seconds_left: int | None = None
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None
    forgotten_at: datetime | None = None


class Progress(Answer):
    """One event of a sweep's progress; ``id`` resumes the stream."""

    id: int
    kind: Literal["queued", "planned", "progress", "stopped", "done", "failed"]
    total: int = 0
    read: int = 0
    unreadable: int = 0
    ready: int = 0
    unchanged: int = 0
    found: dict[str, int] = Field(default={})
    rate: float = 0.0
    seconds_left: int | None = None
    latest: str | None = None
    problem: str | None = None
