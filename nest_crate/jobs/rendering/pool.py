"""Starts the dispatcher, and again where it died."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from dataclasses import asdict
from pathlib import Path

import structlog

from nest_crate.jobs.rendering.admission import Limits
from nest_crate.jobs.rendering.dispatcher import PoolSettings
from nest_crate.jobs.rendering.worker_process import WorkerSettings
from nest_crate.settings import Settings

__all__ = ["RenderPool", "pool_settings"]

_LOOKS_EVERY_S = 0.5
_log = structlog.get_logger()


def pool_settings(settings: Settings) -> PoolSettings:
    """Workers as many as processors for short renders, half as many behind them."""
    cores = settings.render_workers or os.cpu_count() or 2
    return PoolSettings(
        quick=cores,
        slow=max(1, cores // 2),
        worker=WorkerSettings(
            memory_mb=settings.render_memory_mb,
            stage_memory_mb=settings.stage_memory_mb,
            time_s=settings.render_time_s,
        ),
        scheduler=settings.render_scheduler,
        limits=Limits(running=settings.renders_at_once, waiting=settings.renders_waiting),
    )


class RenderPool:
    """Render workers of their own, from ``start`` to ``stop``, for a program of several threads."""

    def __init__(self, settings: Settings) -> None:
        given = asdict(pool_settings(settings))
        self._command = [sys.executable, "-m", "nest_crate.jobs.rendering"]
        self._arguments = [settings.render_socket, json.dumps(given)]
        self._stopping = threading.Event()
        self._process: subprocess.Popen[bytes] | None = None
        self._keeper: threading.Thread | None = None

    def start(self) -> None:
        """Start the workers; returns at once, and requests wait for them."""
        Path(self._arguments[0]).parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._process = self._started()
        self._keeper = threading.Thread(target=self._keep, name="render-pool", daemon=True)
        self._keeper.start()

    def stop(self) -> None:
        self._stopping.set()
        if self._keeper is not None:
            self._keeper.join()
        if self._process is not None:
            self._process.terminate()
            try:
                self._process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                self._process.kill()

    def _started(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen([*self._command, *self._arguments], stdin=subprocess.DEVNULL)

    def _keep(self) -> None:
        while not self._stopping.wait(_LOOKS_EVERY_S):
            if self._process is not None and self._process.poll() is not None:
                _log.warning("dispatcher_ended", code=self._process.returncode)
                self._process = self._started()
