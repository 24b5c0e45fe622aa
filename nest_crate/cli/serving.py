"""What commands that serve have in common."""

from __future__ import annotations

import socket
import time
import urllib.request

import click

from nest_crate.server import taken

__all__ = ["say_when_ready", "taken_or_said"]


def taken_or_said(host: str, port: int) -> socket.socket:
    """The socket, or in plain words why there is none."""
    try:
        return taken(host, port)
    except OSError as error:
        raise click.ClickException(
            f"{host}:{port} cannot be used ({error.strerror}). Choose another with --port."
        ) from error


def say_when_ready(host: str, port: int) -> bool:
    """Say the address as soon as somebody answers there; whether somebody did."""
    address = f"http://{f'[{host}]' if ':' in host else host}:{port}"
    for _ in range(600):
        try:
            urllib.request.urlopen(f"{address}/api/health", timeout=2).close()
        except OSError:
            time.sleep(0.1)
        else:
            click.echo(f"\nNest Crate is ready:  {address}\nCtrl-C stops it.\n")
            return True
    return False
