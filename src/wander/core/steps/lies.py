"""To which side of what was shaped a wall lies."""

from __future__ import annotations

from typing import Literal

Lies = Literal["inwards", "outwards", "middle"]
SHARES: dict[str, tuple[float, float]] = {"inwards": (1.0, 0.0), "outwards": (0.0, 1.0), "middle": (0.5, 0.5)}
"""Of the thickness, inwards and outwards from what was shaped."""
