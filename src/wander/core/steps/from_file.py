"""Parameters of what comes out of a file."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import Angle, Model, Spot, StationRef

NOWHERE: Spot = (0.0, 0.0, 0.0)


class FromFile(Model):
    """file: the key of its data. station: that carries what is in it, its x, y and normal being those of the file; the top plane where there is none.

    at: where the origin of the file is on it, its height last. turn: about the normal.
    """

    file: str = Field(pattern="^[0-9a-f]{32}$")
    station: StationRef | None = Field(default=None, title="Stands on")
    at: Spot = Field(default=NOWHERE, title="At")
    turn: Angle = Field(default=0.0, title="Turned by")
