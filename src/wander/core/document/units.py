"""Quantities with a unit. The library behind them is loaded when the first is met: most numbers of a design are plain."""

from __future__ import annotations

import math
from functools import cache
from typing import Any

LENGTHS = ("mm = [length]", "cm = 10 * mm", "m = 1000 * mm", "inch = 25.4 * mm", "ft = 12 * inch")
ANGLES = ("deg = [angle]", f"rad = {180 / math.pi!r} * deg")


def quantity(magnitude: float, unit: str) -> Any:
    """So many of a unit. Things that don't go together raise TypeError when they are added or converted."""
    return _registry().Quantity(magnitude, unit)


def has_unit(value: Any) -> bool:
    """Whether this came from `quantity`; a ratio of two quantities did as well."""
    return not isinstance(value, int | float | complex)


@cache
def _registry() -> Any:
    import pint

    found: Any = pint.UnitRegistry(None)
    for definition in LENGTHS + ANGLES:
        found.define(definition)
    return found
