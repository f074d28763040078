"""A drawing that is pulled about: every pull begins from it as it is kept, so what can be known of that is found once."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from wander.core.document.expressions import Scope
from wander.core.drawing.holding.equations import Equations
from wander.core.drawing.lines import lines_of
from wander.core.drawing.model import Drawing
from wander.core.drawing.summary import DrawnLines


class Begun:
    """raw: as it is written in a document; drawing: with its measures worked out. Neither is changed."""

    def __init__(self, raw: dict[str, Any], scope: Scope) -> None:
        """Raises ValidationError where a number is wrong, or an expression can't be worked out."""
        self.raw, self.scope = raw, scope
        self.drawing = Drawing.model_validate({k: v for k, v in raw.items() if k != "type"}, context=scope)

    @cached_property
    def equations(self) -> Equations:
        return Equations(self.drawing)

    @cached_property
    def lines(self) -> DrawnLines:
        return lines_of(self.drawing)


class Beginnings:
    """Those of the drawings that hands are on, by the drawing as it is written and the numbers that its expressions may use."""

    def __init__(self, most: int = 4) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[int, Hashable], Begun] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, raw: dict[str, Any], scope: Scope, dimensions: Hashable) -> Begun:
        """dimensions: what the scope knows."""
        # what is kept holds on to its drawing, so that no other takes its place in memory
        key = id(raw), dimensions
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                found = self._kept[key] = Begun(raw, scope)
                if len(self._kept) > self._most:
                    self._kept.popitem(last=False)
            else:
                self._kept.move_to_end(key)
            return found

    def known(self, raw: dict[str, Any], dimensions: Hashable) -> Begun | None:
        """That of a drawing that a hand is or was on."""
        with self._lock:
            return self._kept.get((id(raw), dimensions))


@dataclass(frozen=True)
class Hand:
    """What pulls drawings about. beginnings: what is known of those that it is on. penned: to be told where the lines of a step are, at once."""

    beginnings: Beginnings
    penned: Callable[[str, DrawnLines], None]
