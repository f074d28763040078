"""What holds a drawing: relations between its things and measures of them, what each can be put on, and what it is called."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Annotated, Literal, Protocol

from pydantic import Field

from wander.core.document.fields import Angle, Length, Model, RailRef, Share
from wander.core.drawing.ground import AXES, GROUND, Ground

Id = Annotated[str, Field(pattern=r"^[pch][0-9]{1,6}$")]
MOST_HELD = 200
"""Things that one hold is put on: a curve in many parts is the only one of more than three."""


class _Hold(Model):
    id: Id
    of: list[Id | Ground] = Field(min_length=1, max_length=MOST_HELD)


class Relation(_Hold):
    """Geometry held by other geometry."""

    type: Literal[
        "coincident",
        "horizontal",
        "vertical",
        "parallel",
        "perpendicular",
        "collinear",
        "equal",
        "tangent",
        "curvature",
        "concentric",
        "midpoint",
        "symmetric",
        "on-curve",
        "divided",
        "fixed",
    ]


class Passing(_Hold):
    """A point held where a rail passes through the plane of the drawing, and goes with it.

    at: where that was when it was last worked out, mm; of several places it is the one nearest to it.
    """

    type: Literal["passes"]
    rail: RailRef
    at: Annotated[tuple[float, float], Field(strict=False)]


class _Measure(_Hold):
    """reading: it only tells, and holds nothing. aside: how far its number was moved from where it stands by itself, mm."""

    reading: bool = False
    aside: Annotated[tuple[float, float], Field(strict=False)] | None = None


class Measure(_Measure):
    """A size, typed or read."""

    type: Literal["length", "distance", "across", "up", "radius", "diameter"]
    value: Length


class AngleMeasure(_Measure):
    type: Literal["angle"]
    value: Angle


class ShareMeasure(_Measure):
    """A share of the chord of a foil, without a unit."""

    type: Literal["thickness", "camber", "crest"]
    value: Share


AnyMeasure = Measure | AngleMeasure | ShareMeasure
AnyHold = Relation | Passing | AnyMeasure
Hold = Annotated[AnyHold, Field(discriminator="type")]
SIZES = frozenset({"length", "distance", "radius", "diameter"})
"""Measures that say how large something is; distances across and up have a direction."""
SHARES = {"thickness": (1e-4, 0.6), "camber": (-0.3, 0.3), "crest": (0.1, 0.9)}
"""The shares of a foil, and between what they can lie."""
MEASURES = frozenset({"length", "distance", "across", "up", "radius", "diameter", "angle", *SHARES})
HOLD_WORDS = {
    "coincident": "on one point",
    "horizontal": "horizontal",
    "vertical": "vertical",
    "parallel": "parallel",
    "perpendicular": "square to each other",
    "collinear": "in one straight line",
    "equal": "equal",
    "tangent": "tangent",
    "curvature": "with its curvature",
    "concentric": "about one centre",
    "midpoint": "at the middle",
    "symmetric": "symmetric",
    "on-curve": "on the curve",
    "divided": "in equal parts",
    "fixed": "fixed",
    "passes": "where a rail passes",
    "length": "length",
    "distance": "distance",
    "across": "distance across",
    "up": "distance up",
    "radius": "radius",
    "diameter": "diameter",
    "angle": "angle",
    "thickness": "thickness",
    "camber": "camber",
    "crest": "crest",
}
_TAKES: dict[str, tuple[str, ...]] = {
    "coincident": ("pp",),
    "horizontal": ("l", "f", "pp"),
    "vertical": ("l", "f", "pp"),
    "parallel": ("ll",),
    "perpendicular": ("ll",),
    "collinear": ("ll",),
    "equal": ("ll", "rr", "ee"),
    "tangent": ("lr", "rl", "rr", "ls", "sl", "rs", "sr", "ss"),
    "curvature": ("nl", "ln", "nc", "cn", "ns", "sn"),
    "concentric": ("rr", "re", "er", "ee"),
    "midpoint": ("pl", "pc"),
    "symmetric": ("ppl", "eel", "ffl"),
    "on-curve": ("pl", "pr", "pe", "pf", "ps", "pt", "pb"),
    "fixed": ("p", "l", "r", "e", "f", "s"),
    "passes": ("p",),
    "length": ("l", "f"),
    "distance": ("pp", "pl", "ll", "rr", "rl", "pr", "b"),
    "across": ("pp", "l", "e", "r", "rr", "pr", "rl"),
    "up": ("pp", "l", "e", "r", "rr", "pr", "rl"),
    "radius": ("r",),
    "diameter": ("r",),
    "angle": ("ll", "l", "f", "c"),
    "thickness": ("f",),
    "camber": ("f",),
    "crest": ("f",),
}
_TO_AXES = frozenset({"parallel", "perpendicular", "collinear", "tangent", "symmetric", "on-curve", "distance", "angle"})
"""The holds for which an axis is as good as a line."""
KINDS: dict[str, frozenset[str]] = {
    "p": frozenset({"point"}),
    "l": frozenset({"line"}),
    "a": frozenset({"axis"}),
    "r": frozenset({"arc", "circle"}),
    "c": frozenset({"arc"}),
    "e": frozenset({"ellipse"}),
    "f": frozenset({"foil"}),
    "s": frozenset({"spline", "poles"}),
    "n": frozenset({"spline"}),
    "t": frozenset({"trace"}),
    "b": frozenset({"beside"}),
}
"""The kinds of things that a letter stands for."""
_WORDS = {
    "p": "a point",
    "l": "a line",
    "a": "an axis",
    "r": "a circle or arc",
    "c": "an arc",
    "e": "an ellipse",
    "f": "a foil",
    "s": "a spline",
    "n": "a spline through points",
    "t": "a traced edge",
    "b": "an offset",
}


def _with_axes(hold: str, takes: tuple[str, ...]) -> tuple[str, ...]:
    """What a hold takes, with an axis in the place of each line."""
    if hold not in _TO_AXES:
        return takes
    found = list(takes)
    for take in takes:
        found += [f"{take[:i]}a{take[i + 1 :]}" for i, letter in enumerate(take) if letter == "l" and len(take) > 1]
    return tuple(dict.fromkeys(found))


HOLD_TAKES = {hold: _with_axes(hold, takes) for hold, takes in _TAKES.items()}
"""What each hold can be put on: a letter for each thing, in their order."""
CURVES_IN_PAIRS = ("lll", "ccl", "rrl", "ssl", "lla", "cca", "rra", "ssa")
"""Curves that the hand holds symmetric as a whole; their points are held, pair by pair."""


class HasType(Protocol):
    @property
    def type(self) -> str: ...


def kind_of(thing: str, curves: Mapping[str, HasType]) -> str:
    """The type of a curve, `axis`, or `point`: whatever is neither."""
    return "axis" if thing in AXES else curves[thing].type if thing in curves else "point"


def fits(hold: str, of: Sequence[str], curves: Mapping[str, HasType]) -> bool:
    """Whether a kind of hold can be put on things."""
    if len(set(of)) != len(of) or all(thing in GROUND for thing in of):
        return False
    return _takes(hold, tuple(kind_of(thing, curves) for thing in of))


@lru_cache(maxsize=1024)
def _takes(hold: str, got: tuple[str, ...]) -> bool:
    """got: kinds of things, in their order. A large drawing asks for the same few hundreds of times."""
    if hold == "divided":
        return got[0] in {"line", "arc", "spline", "poles"} and len(got) > 1 and set(got[1:]) == {"point"}
    return any(len(take) == len(got) and all(kind in KINDS[letter] for letter, kind in zip(take, got, strict=True)) for take in HOLD_TAKES[hold])


def misfit(hold: str, of: Sequence[str], curves: Mapping[str, HasType]) -> str | None:
    """What is wrong with the things that a kind of hold is put on, if anything."""
    if fits(hold, of, curves):
        return None
    if hold == "divided":
        return "it takes a line, an arc or an open spline, and points"
    return "it takes " + ", or ".join(" and ".join(_WORDS[letter] for letter in takes) for takes in _TAKES[hold])
