"""Settings of the parts that run: from the environment, ``PLUMRAKE_…``."""

from __future__ import annotations

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """What service and worker need to know."""

    model_config = SettingsConfigDict(env_prefix="PLUMRAKE_")

    database: str = "postgresql://plumrake@127.0.0.1:5432/plumrake"
    host: str = "127.0.0.1"
    port: int = 8600
    secure_cookies: bool = False
    session_hours: int = 12
    worker_jobs: int = 2
    worker_tabs: int = 2
    page_seconds: float = 30.0
    log_json: bool = False
