"""Settings for all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
settings.register_profile("wander", max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
# where a change has to land the same examples are tried every time; everywhere else new ones are looked for
settings.register_profile("landing", settings.get_profile("wander"), derandomize=True)
settings.load_profile("landing" if os.environ.get("CI") else "wander")

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="session")
def samples() -> Path:
    return ROOT / "samples"
