"""Settings from environment variables, read once, with defaults that work on one machine."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

__all__ = ["Settings"]


class Settings(BaseSettings):
    """Every setting; each is read from ``NEST_CRATE_`` and its name in capitals."""

    model_config = SettingsConfigDict(env_prefix="NEST_CRATE_", frozen=True)

    database_url: str = Field(
        default="mysql+pymysql://nest_crate@127.0.0.1:3306/nest_crate?charset=utf8mb4",
        description="SQLAlchemy address of the MariaDB database",
    )
    audio_url: str = Field(
        default=f"file://{Path.cwd() / 'var' / 'audio'}",
        description="fsspec address of the folder or object store for audio files",
    )
    secret_key: str = Field(
        default="", description="Signs sessions; a random one, new at each start, where empty"
    )
    backup_passphrase: str = Field(
        default="", description="Encrypts backups and opens them; asked for where it is needed"
    )
    static_folder: str = Field(
        default=str(Path(__file__).parent.parent / "frontend" / "dist"),
        description="The built front end",
    )
    docs_folder: str = Field(
        default=str(Path(__file__).parent.parent / "site"),
        description="The built documentation",
    )
    auto_sign_in: str = Field(
        default="", description="Account signed in without asking; empty for none"
    )
    demo_sign_in: bool = Field(
        default=False, description="The page for signing in offers the demo's accounts"
    )
    hosts: str = Field(
        default="",
        description="Names under which the server is reached, with commas; those of this machine "
        "need not be named",
    )
    trusted_proxies: int = Field(
        default=0,
        ge=0,
        le=5,
        description="Proxies in front whose X-Forwarded headers are believed",
    )
    secure_cookies: bool = Field(
        default=False, description="Cookies are sent over HTTPS alone; for a server behind TLS"
    )
    session_days: int = Field(default=30, ge=1, description="Days until one signs in again")
    sign_ins_a_minute: int = Field(
        default=10, ge=1, description="Tries to sign in from one address in a minute"
    )
    vocabulary: str = Field(
        default="", description="CSV of categories in place of the one that ships"
    )
    stage_memory_mb: int = Field(
        default=160,
        ge=0,
        description="Memory of one render worker for remembered results of stages, in MB",
    )
    web_processes: int = Field(
        default=2, ge=1, le=64, description="Processes that answer requests, behind one port"
    )
    run_folder: str = Field(
        default=str(Path.cwd() / "var" / "run"),
        description="What the processes of one machine share while they run: sockets, progress",
    )
    render_workers: int = Field(
        default=0, ge=0, le=256, description="Workers for short renders; one a processor at 0"
    )
    render_scheduler: str = Field(
        default="",
        description="Address of a Dask scheduler whose workers make the renders that people wait "
        "for; processes of this machine where empty",
    )
    render_memory_mb: int = Field(
        default=1400, ge=400, description="Memory of one render worker in MB, past which it fails"
    )
    render_time_s: float = Field(
        default=60.0,
        ge=1.0,
        description="Seconds that a render may keep a processor at work, past which it is ended; "
        "by the clock five times as long",
    )
    renders_at_once: int = Field(
        default=2, ge=1, description="Renders of one account under way at a time"
    )
    renders_waiting: int = Field(
        default=8, ge=1, description="Renders of one account that may wait"
    )
    job_scheduler: str = Field(
        default="",
        description="Address of a Dask scheduler for long work; a process beside the server where "
        "empty",
    )
    job_threads: int = Field(
        default=0,
        ge=0,
        le=256,
        description="Pieces of long work at a time beside the server; all processors but one at 0",
    )
    job_memory_mb: int = Field(
        default=2000,
        ge=300,
        description="Memory at which the process for long work is ended and replaced, in MB",
    )

    @property
    def render_socket(self) -> str:
        """Where the render workers are reached."""
        return str(Path(self.run_folder) / "render.sock")
