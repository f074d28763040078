"""Openings to be closed: the edges round them and what lies beside each."""

from __future__ import annotations

from dataclasses import dataclass

from wander.core.bodies.body import Body
from wander.core.shaping.edges import Edge


@dataclass(frozen=True)
class Side:
    """One of the edges round an opening. face: name of the one beside it that the patch goes on from."""

    body: Body
    edge: Edge
    face: str


@dataclass(frozen=True)
class Patched:
    """body: the sheet inside the edges. flat: it is a plane."""

    body: Body
    flat: bool
