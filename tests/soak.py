"""The long versions of tests that draw at random: `make soak`."""

from __future__ import annotations

import os
from typing import TypeVar

Tried = TypeVar("Tried")


def times(short: Tried, long: Tried) -> Tried:
    """How often something is tried, or what: in the tests, and in the long version."""
    return long if os.environ.get("WANDER_SOAK") else short
