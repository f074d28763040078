"""Bodies that others are joined with or cut by: they mostly stay as they are while something else is dragged, and are then not made anew."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Sequence
from math import floor, log2
from typing import TypeVar

from wander.core.bodies.body import Body
from wander.core.bodies.combining import How, combined_roughly, meshed
from wander.core.bodies.rough import Rough
from wander.core.geometry.tolerances import DEFAULT

MOST = 24
Key = TypeVar("Key")
Thing = TypeVar("Thing")


class Tools:
    """Bodies by the key of what they are made of, and their meshes in the form that booleans take. Those used least recently go first."""

    def __init__(self) -> None:
        self._bodies: OrderedDict[str, Body] = OrderedDict()
        self._meshes: OrderedDict[tuple[int, float], tuple[Body, Rough]] = OrderedDict()

    def body(self, key: str, make: Callable[[], Body]) -> Body:
        found = self._bodies.get(key) or make()
        _keep(self._bodies, key, found)
        return found

    def combined(self, how: How, body: Body, tools: Sequence[Body]) -> Body:
        """On meshes, as coarse as half a pixel where all of it fills the window. Raises CombineFailed."""
        tolerance = _step_below(DEFAULT.moving * max(item.size_about for item in (body, *tools)))
        return combined_roughly(how, body, tools, tolerance, self._meshed)

    def forget(self) -> None:
        self._bodies.clear()
        self._meshes.clear()

    def _meshed(self, body: Body, tolerance: float) -> Rough:
        """Raises NotClosed."""
        # the body is kept beside its mesh: as long as it is, no other one has its identity
        key = (id(body), tolerance)
        found = self._meshes.get(key) or (body, meshed(body, tolerance))
        _keep(self._meshes, key, found)
        return found[1]


def _keep(kept: OrderedDict[Key, Thing], key: Key, thing: Thing) -> None:
    kept[key] = thing
    kept.move_to_end(key)
    if len(kept) > MOST:
        kept.popitem(last=False)


def _step_below(tolerance: float) -> float:
    """The next of a few tolerances, so that a body that grows a little finds its tools meshed."""
    return max(DEFAULT.display, 2.0 ** (floor(2 * log2(max(tolerance, DEFAULT.display))) / 2))
