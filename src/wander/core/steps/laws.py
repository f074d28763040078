"""Laws as parameters: what a designer sets along the length of a body."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, Model, Share
from wander.core.geometry import law
from wander.core.geometry.law import Law


class TwistConstant(Model):
    type: Literal["constant"]
    value: Angle = Field(title="Turned by")

    def law(self) -> Law:
        return law.constant(self.value)


class TwistLinear(Model):
    type: Literal["linear"]
    start: Angle = Field(title="At the start")
    end: Angle = Field(title="At the end")

    def law(self) -> Law:
        return law.linear(self.start, self.end)


class TwistSmooth(Model):
    """Level at both ends."""

    type: Literal["smooth"]
    start: Angle = Field(title="At the start")
    end: Angle = Field(title="At the end")

    def law(self) -> Law:
        return law.smooth(self.start, self.end)


class TwistPoint(Model):
    """at: share of the length. sharp: the law may bend here."""

    at: Share
    value: Angle
    sharp: bool = False


class TwistPoints(Model):
    """swings: between its points the law may go beyond them, as a batten would that is let go."""

    type: Literal["points"]
    points: list[TwistPoint] = Field(min_length=1, max_length=200)
    swings: bool = Field(default=False, title="May swing beyond its points")

    def law(self) -> Law:
        return law.through([(p.at, p.value, p.sharp) for p in self.points], swings=self.swings)


class ScaleConstant(Model):
    type: Literal["constant"]
    value: Share = Field(title="Factor")

    def law(self) -> Law:
        return law.constant(self.value)


class ScaleLinear(Model):
    type: Literal["linear"]
    start: Share = Field(title="At the start")
    end: Share = Field(title="At the end")

    def law(self) -> Law:
        return law.linear(self.start, self.end)


class ScaleSmooth(Model):
    """Level at both ends."""

    type: Literal["smooth"]
    start: Share = Field(title="At the start")
    end: Share = Field(title="At the end")

    def law(self) -> Law:
        return law.smooth(self.start, self.end)


class ScalePoint(Model):
    """at: share of the length. sharp: the law may bend here."""

    at: Share
    value: Share
    sharp: bool = False


class ScalePoints(Model):
    """swings: between its points the law may go beyond them, as a batten would that is let go."""

    type: Literal["points"]
    points: list[ScalePoint] = Field(min_length=1, max_length=200)
    swings: bool = Field(default=False, title="May swing beyond its points")

    def law(self) -> Law:
        return law.through([(p.at, p.value, p.sharp) for p in self.points], swings=self.swings)


TwistLaw = Annotated[TwistConstant | TwistLinear | TwistSmooth | TwistPoints, Field(discriminator="type")]
ScaleLaw = Annotated[ScaleConstant | ScaleLinear | ScaleSmooth | ScalePoints, Field(discriminator="type")]
