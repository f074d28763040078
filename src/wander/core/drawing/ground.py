"""What every drawing has without anybody drawing it: its origin and its axes, which things are held to and never move."""

from __future__ import annotations

from typing import Final, Literal

ORIGIN: Final = "origin"
AXES: Final = {"x-axis": (1.0, 0.0), "y-axis": (0.0, 1.0)}
"""The axes by name, with the direction in which each runs from the origin."""
Ground = Literal["origin", "x-axis", "y-axis"]
GROUND: Final = frozenset({ORIGIN, *AXES})
GROUND_WORDS: Final = {ORIGIN: "origin", "x-axis": "x axis", "y-axis": "y axis"}
