"""What the screen shows of a drawing that has been worked out."""

from __future__ import annotations

from wander.core.document.fields import Model


class DrawnLines(Model):
    """Where everything drawn is: what is seen of a drawing before its areas and its health are known. points: solved, mm. paths: of its curves."""

    points: dict[str, tuple[float, float]]
    paths: dict[str, str]


class DrawnPath(Model):
    """One curve: its path, and whether it can't move any more."""

    id: str
    path: str
    held: bool
    construction: bool


class DrawnRegion(Model):
    """A closed area. used: it belongs to the outline. area: mm2, without what is cut out of it."""

    name: str
    path: str
    area: float
    used: bool
    at: tuple[float, float]


class DrawnDispute(Model):
    holds: list[str]
    last: str
    conflict: bool


class DrawnCrossing(Model):
    """A place where two curves cross inside of both, mm."""

    at: tuple[float, float]
    of: tuple[str, str]


class DrawingSummary(Model):
    """points: solved, mm. held: ids of points that can't move. measures: what each comes to, mm, degrees or shares. freedoms: numbers still free.

    box: round the curves that are drawn in full, or round all where none is; two opposite corners, mm.
    """

    points: dict[str, tuple[float, float]]
    held: list[str]
    curves: list[DrawnPath]
    regions: list[DrawnRegion]
    measures: dict[str, float]
    freedoms: int
    disputes: list[DrawnDispute]
    crossings: list[DrawnCrossing]
    box: tuple[tuple[float, float], tuple[float, float]] | None = None
