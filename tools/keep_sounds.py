"""Makes the fingerprints of kept sounds again, for a raised ``ENGINE_VERSION`` or new kinds.

python -m tools.keep_sounds
"""

from __future__ import annotations

import json
from typing import Any

from nest_crate.core.engine import ENGINE_VERSION
from tests.core.kept_sounds import FOLDER, cases


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return float(f"{value:.5g}")
    if isinstance(value, dict):
        return {key: _rounded(one) for key, one in value.items()}
    return [_rounded(one) for one in value] if isinstance(value, list) else value


def main() -> None:
    made = {name: _rounded(make()) for name, make in cases().items()}
    lines = ",\n".join(f"{json.dumps(name)}: {json.dumps(one)}" for name, one in made.items())
    text = f'{{"engine_version": {ENGINE_VERSION},\n"fingerprints": {{\n{lines}\n}}}}\n'
    FOLDER.mkdir(exist_ok=True)
    (FOLDER / "fingerprints.json").write_text(text)
    print(f"{len(made)} fingerprints")


if __name__ == "__main__":
    main()
