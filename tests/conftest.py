"""Settings for all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
settings.register_profile("wander", max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("wander")

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="session")
def samples() -> Path:
    return ROOT / "samples"
