"""Wander shapes freeform bodies from sections.

From Python: `wander.open(path)` gives a design whose dimensions can be changed, whose bodies can be measured and written to files.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from wander.core.design.opened import BodyReading as BodyReading
    from wander.core.design.opened import Design as Design
    from wander.core.design.opened import open_design as open  # noqa: A004

__version__ = "0.1.0"

__all__ = ["BodyReading", "Design", "open"]
_PLACES = {"BodyReading": "BodyReading", "Design": "Design", "open": "open_design"}


def __getattr__(name: str) -> Any:
    # a server begins without loading what only notebooks need
    if name not in _PLACES:
        raise AttributeError(name)
    from wander.core.design import opened

    return getattr(opened, _PLACES[name])
