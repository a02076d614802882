"""What the commands that run a part of the service share: its settings, and how it logs."""

from __future__ import annotations

import logging
from typing import Any

import structlog
from pydantic import ValidationError

from plumrake.cli.errors import Exit, fail
from plumrake.settings import Settings

GRACE_SECONDS = 3


def settings_or_fail() -> Settings:
    """Return the settings; leave with what is wrong of one."""
    try:
        return Settings()
    except ValidationError as error:
        first = error.errors()[0]
        says = first["msg"].removeprefix("Value error, ")
        name = f"the setting PLUMRAKE_{str(first['loc'][0]).upper()}: " if first["loc"] else ""
        fail(f"{name}{says}", Exit.USAGE)


def set_up_logging(*, as_json: bool) -> None:
    """Let everything be logged to standard error, as lines or as JSON."""
    final = (
        structlog.processors.JSONRenderer()
        if as_json
        else structlog.dev.ConsoleRenderer(colors=False)
    )
    shared: list[Any] = [
        structlog.stdlib.add_log_level,
        structlog.stdlib.add_logger_name,
        structlog.processors.TimeStamper(fmt="iso"),
    ]
    formatter = structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=[*shared, _without_colour],
        processors=[
            structlog.stdlib.ProcessorFormatter.remove_processors_meta,
            structlog.processors.format_exc_info,
            final,
        ],
    )
    handler = logging.StreamHandler()
    handler.setFormatter(formatter)
    logging.basicConfig(handlers=[handler], level=logging.INFO, force=True)
    for name in ("httpx", "procrastinate", "yoyo", "uvicorn.access"):
        logging.getLogger(name).setLevel(logging.WARNING)
    structlog.configure(
        processors=[*shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
    )


def _without_colour(
    logger: object, name: str, event: structlog.typing.EventDict
) -> structlog.typing.EventDict:
    event.pop("color_message", None)
    return event
