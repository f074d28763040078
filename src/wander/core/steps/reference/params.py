"""A body from a file that is there to be looked at."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.steps.from_file import FromFile


class ReferenceParams(FromFile):
    """unit: what a number of an STL file stands for, which such files do not say."""

    format: Literal["step", "stl"]
    unit: Literal["mm", "cm", "m", "in"] = Field(default="mm", title="One unit of the file is")
