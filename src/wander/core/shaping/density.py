"""How fine a mesh is asked for: by a tolerance, or by counts."""

from __future__ import annotations

from dataclasses import dataclass

MOST = 4096
"""Pieces in one direction."""


@dataclass(frozen=True)
class Density:
    """How many lines. tolerance: mm, where they are not counted. around: pieces round each loop of the section; along: from end to end; None: as many
    as the tolerance takes. loops: shares of the length at which a line goes round besides.
    """

    tolerance: float = 0.05
    around: int | None = None
    along: int | None = None
    loops: tuple[float, ...] = ()
