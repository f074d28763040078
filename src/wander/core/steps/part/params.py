"""A body that was brought in from a STEP file."""

from __future__ import annotations

from pydantic import Field

from wander.core.steps.from_file import FromFile


class PartParams(FromFile):
    """number: which of the bodies of the file, counted from 0; all of them as one where there is none."""

    number: int | None = Field(default=None, ge=0, le=100_000)
