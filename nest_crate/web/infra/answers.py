"""What many answers have in common."""

from __future__ import annotations

import re
from typing import Any

from flask import Response

__all__ = ["attachment", "moment"]


def moment(when: Any) -> str:
    """A time as it is answered: UTC."""
    return f"{when.isoformat()}Z"


def attachment(response: Response, name: str, ending: str) -> None:
    """Have an answer saved under a plain name."""
    plain = re.sub(r"[^\w\- .]+", "", name, flags=re.ASCII).strip(" .") or "sample"
    response.headers["Content-Disposition"] = f'attachment; filename="{plain}.{ending}"'
