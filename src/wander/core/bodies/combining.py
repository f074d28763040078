"""Joining, cutting and overlapping bodies on their meshes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import Enum

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.rough import Drawn, Image, NotClosed, Rough, rough_of


class How(Enum):
    """What becomes of a body and its tools."""

    JOIN = "join"
    CUT = "cut"
    OVERLAP = "overlap"


class CombineFailed(ValueError):
    """The bodies can't be put together like this; the message says why, in the designer's words."""


class NothingLeft(CombineFailed):
    """There is nothing there: a tool took everything away, or the bodies share nothing."""

    def __init__(self) -> None:
        super().__init__("nothing is left of it")


def meshed(body: Body, tolerance: float) -> Rough:
    """The mesh of a body in the form that booleans take. Raises NotClosed."""
    # a cut takes as long as there are triangles
    return body.rough or rough_of(mesh_of(body, tolerance, sparse=True))


def combined_roughly(how: How, body: Body, tools: Sequence[Body], tolerance: float, tool_meshed: Callable[[Body, float], Rough] = meshed) -> Body:
    """The body joined with the tools, less them, or as far as it lies in them, as a mesh within about the tolerance, mm.

    tool_meshed: where the meshes of tools come from, which may be known from before. Raises CombineFailed.
    """
    try:
        base, *others = [meshed(body, tolerance).drawn, *(tool_meshed(tool, tolerance).drawn for tool in tools)]
    except NotClosed:
        raise CombineFailed("the mesh of one of the bodies does not close") from None
    tool = others[0].solid
    for other in others[1:]:
        tool = tool + other.solid
    match how:
        case How.JOIN:
            made = base.solid + tool
        case How.CUT:
            made = base.solid - tool
        case How.OVERLAP:
            made = base.solid ^ tool
    if made.is_empty():
        raise NothingLeft
    drawn = Drawn(made, {number: names for part in (base, *others) for number, names in part.names.items()})
    rough = Rough((Image(drawn),))
    return Body(rough.measures, rough=rough, along=body.along)
