"""Points of a drawing that are held where rails pass through its plane, and go with them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wander.core.document.fields import RailRef
from wander.core.drawing.holds import AnyHold, Passing
from wander.core.drawing.model import DrawnShape
from wander.core.results.rails import Rail
from wander.core.shaping.between_rails import passes
from wander.core.steps.traces import OnSheet


def on_rails(shape: DrawnShape, rail_of: Callable[[RailRef], Rail], on_sheet: OnSheet) -> tuple[DrawnShape, list[Passing]]:
    """The drawing held where its rails pass now, and the holds whose rail does not pass any more: they keep the place they had."""
    if not any(isinstance(hold, Passing) for hold in shape.holds):
        return shape, []
    missed: list[Passing] = []
    holds: list[AnyHold] = []
    for hold in shape.holds:
        if isinstance(hold, Passing):
            places = on_sheet.laid(passes(rail_of(hold.rail).curve, on_sheet.frame))
            if len(places):
                x, y = places[np.linalg.norm(places - hold.at, axis=1).argmin()]
                hold = hold.model_copy(update={"at": (float(x), float(y))})
            else:
                missed.append(hold)
        holds.append(hold)
    return shape.model_copy(update={"holds": holds}), missed
