"""The long versions of tests that draw at random: `make soak`."""

from __future__ import annotations

import os


def times(short: int, long: int) -> int:
    """How often something is tried: in the tests, and in the long version."""
    return long if os.environ.get("WANDER_SOAK") else short
