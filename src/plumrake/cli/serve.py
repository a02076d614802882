"""``plumrake serve``."""

from __future__ import annotations

import click
import uvicorn

from plumrake.cli.processes import GRACE_SECONDS, set_up_logging, settings_or_fail
from plumrake.service.app import create_app


@click.command("serve")
def serve_command() -> None:
    """Run the service. Settings come from PLUMRAKE_DATABASE, PLUMRAKE_HOST, PLUMRAKE_PORT …"""
    settings = settings_or_fail()
    set_up_logging(as_json=settings.log_json)
    uvicorn.run(
        create_app(settings),
        proxy_headers=bool(settings.proxies),
        forwarded_allow_ips=settings.proxies or None,
        host=settings.host,
        port=settings.port,
        log_config=None,
        access_log=False,
        timeout_graceful_shutdown=GRACE_SECONDS,
        server_header=False,
    )
