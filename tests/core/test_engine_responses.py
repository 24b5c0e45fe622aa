"""The figures that the front end's pictures are held against are the engine's."""

import json

import numpy as np

from tools.engine_responses import FILE, responses


def test_they_are_current():
    kept, now = json.loads(FILE.read_text()), responses()
    for kind, figure in (
        ("filter", "db"),
        ("formant", "db"),
        ("equaliser", "db"),
        ("drive", "out"),
    ):
        assert len(kept[kind]) == len(now[kind]) > 30 or kind == "formant"
        for before, after in zip(kept[kind], now[kind], strict=True):
            np.testing.assert_allclose(
                after[figure],
                before[figure],
                atol=0.02,
                err_msg=f"{kind} {before}: run tools.engine_responses",
            )
