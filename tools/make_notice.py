"""Lists what the app is made of, with licences: NOTICE.

    .venv/bin/python -m tools.make_notice

It reads what is installed: the pinned Python packages, and what the built front end contains.
"""

from __future__ import annotations

import json
import re
from importlib import metadata
from pathlib import Path

ROOT = Path(__file__).parents[1]
_HEAD = """Nest Crate
Copyright (c) 2026 the Nest Crate authors
Licensed under the MIT License; see LICENSE.

The app installs and uses the packages below. Each is under its own licence, whose text comes with
the package. MIT-licensed code may be combined with all of them. One of them, mutagen, is under the
GPL-2.0-or-later: anyone who passes on Nest Crate together with mutagen passes on that combination
under the terms of the GPL. libsndfile (in soundfile) and libsoxr (in soxr) are under the
LGPL-2.1-or-later and are linked dynamically.

This file is made by tools/make_notice.py.
"""
# Classifiers are longer than the names that people use.
_SHORT = {
    "License :: OSI Approved :: MIT License": "MIT",
    "License :: OSI Approved :: BSD License": "BSD",
    "License :: OSI Approved :: Apache Software License": "Apache-2.0",
    "License :: OSI Approved :: GNU Lesser General Public License v2 or later (LGPLv2+)": (
        "LGPL-2.1-or-later"
    ),
}


def _python_licence(name: str) -> str:
    facts = metadata.metadata(name)
    stated = facts.get("License-Expression")
    if stated:
        return stated
    classifiers = [one for one in facts.get_all("Classifier", []) if one.startswith("License")]
    if classifiers:
        return ", ".join(_SHORT.get(one, one.rsplit(" :: ", 1)[-1]) for one in classifiers)
    return (facts.get("License") or "see the package").splitlines()[0]


def _python_packages() -> list[tuple[str, str, str]]:
    pins = re.findall(
        r"^([\w.\-]+)(?:\[[^\]]*\])?==(\S+)", (ROOT / "requirements.txt").read_text(), re.M
    )
    return [(name, version, _python_licence(name)) for name, version in pins]


def _front_end_packages() -> list[tuple[str, str, str]]:
    lock = json.loads((ROOT / "frontend/package-lock.json").read_text())["packages"]
    found = []
    for path, facts in lock.items():
        if path and not facts.get("dev") and not facts.get("optional"):
            name = path.rsplit("node_modules/", 1)[-1]
            found.append((name, facts["version"], facts.get("license", "see the package")))
    return sorted(set(found))


def _table(packages: list[tuple[str, str, str]]) -> str:
    return "\n".join(f"  {name} {version}: {licence}" for name, version, licence in packages)


def main() -> None:
    text = (
        f"{_HEAD}\nPython packages\n{_table(_python_packages())}\n\n"
        "Fonts and packages in the front end (fonts are those of the @fontsource packages)\n"
        f"{_table(_front_end_packages())}\n"
    )
    (ROOT / "NOTICE").write_text(text)


if __name__ == "__main__":
    main()
