"""A sheet at a distance from faces of a body."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import BodyRef, FaceRef, Length, Model


class OffsetParams(Model):
    """faces: all of the body where none is picked. distance: along their normals, outwards of a body; 0 copies the faces."""

    body: BodyRef = Field(title="Body")
    faces: list[FaceRef] = Field(default=[], title="Faces", max_length=200)
    distance: Length = Field(default=2.0, title="Distance")
