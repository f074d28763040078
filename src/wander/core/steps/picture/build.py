"""Reference picture: something to draw after, laid on a station."""

from __future__ import annotations

from wander.core.checks.pictures import no_width
from wander.core.geometry.frame import Frame
from wander.core.results.summaries import PictureSummary, vector
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.picture.params import PictureParams


def build(params: PictureParams, inputs: Inputs) -> Built:
    if params.width <= 0:
        raise StepRefused([no_width(inputs.step)])
    frame: Frame = inputs.result(params.station)
    summary = PictureSummary(
        station=params.station.step,
        picture=params.picture,
        origin=vector(frame.origin),
        x=vector(frame.x),
        y=vector(frame.y),
        at=params.at,
        width=params.width,
        turn=params.turn,
        fade=min(max(params.fade, 0.0), 1.0),
        locked=params.locked,
    )
    return Built(params.picture, summary)
