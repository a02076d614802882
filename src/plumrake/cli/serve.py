"""``plumrake serve``."""

from __future__ import annotations

import click

from plumrake.cli.processes import GRACE_SECONDS, set_up_logging, settings_or_fail


@click.command("serve")
def serve_command() -> None:
    """Run the service. Settings come from PLUMRAKE_DATABASE, PLUMRAKE_HOST, PLUMRAKE_PORT …"""
    # Loaded here: whoever lists the commands waits for none of it.
    import uvicorn

    from plumrake.service.app import create_app

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
