"""The demo designs as they were shaped, before anything was done to their bodies: quick to build, for tests of everything else."""

from __future__ import annotations

import atexit
import json
import shutil
import tempfile
from functools import cache
from pathlib import Path

SAMPLES = Path(__file__).parents[1] / "samples"
SHAPED_BY = {"tarn": "loft-13", "bailer": "loft-9"}
"""The last step of the shape, where more was done after it."""
WORKED_ALL_OVER = ("vent",)
"""Designs that are nothing without it."""


@cache
def as_shaped() -> Path:
    """A folder with them, for as long as this process runs."""
    folder = Path(tempfile.mkdtemp(prefix="wander-as-shaped-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    for sample in SAMPLES.glob("*.json"):
        if sample.stem in WORKED_ALL_OVER:
            continue
        raw = json.loads(sample.read_bytes())
        last = SHAPED_BY.get(sample.stem)
        if last is not None:
            count = 1 + next(i for i, step in enumerate(raw["steps"]) if step["id"] == last)
            raw["steps"] = raw["steps"][:count]
            raw["next"] = 1 + max(int(step["id"].rpartition("-")[2]) for step in raw["steps"])
        (folder / sample.name).write_text(json.dumps(raw))
    return folder
