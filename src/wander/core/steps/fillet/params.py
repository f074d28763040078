"""Edges rounded."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import BodyRef, Length, Model, Share
from wander.core.steps.edges_meant import EdgesMeant


class RadiusAt(Model):
    """at: share of the length of the run of edges, 0 to 1."""

    at: Share = Field(title="At")
    radius: Length = Field(title="Radius")


class FilletSet(EdgesMeant):
    """Edges with one radius, or with one that changes along them: smooth between the places that are given."""

    radius: Length = Field(default=2.0, title="Radius")
    along: list[RadiusAt] = Field(default=[], title="Along it", max_length=50)


class FilletParams(Model):
    body: BodyRef = Field(title="Body")
    sets: list[FilletSet] = Field(title="Edges", min_length=1, max_length=50)
