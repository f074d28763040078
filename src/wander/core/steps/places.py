"""What is made along a rail that stands for several: along further edges, and on every copy of a body."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from wander.core.bodies.body import Body, Copy
from wander.core.geometry.motions import after, back
from wander.core.results.rails import Rail
from wander.core.shaping.shell import Shell


def called(rail: str, run: Rail, *, alone: bool = False) -> str:
    """What follows the name of a body in those of what was made along a run: by its rail, and by the edge where it is a further one.

    alone: there is nothing before it that it would have to be told from.
    """
    if run.called:
        return f"/{rail}.{run.called}"
    return "" if alone else f"/{rail}"


def at_all_places(skins: Sequence[Shell], rail: Rail) -> tuple[Shell, ...]:
    """Skins made along the curve of a rail, on each of its copies; what is on one is called by it."""
    if not rail.places:
        return tuple(skins)
    return tuple(
        (skin.renamed(place.suffix[1:]) if place.suffix else skin).moved(place.motion.matrix, place.motion.origin)
        for place in rail.places
        for skin in skins
    )


def with_places_of(body: Body, rails: Iterable[Rail]) -> Body:
    """A body that was made along rails alone, with the copies in it that can be told from its original."""
    known: dict[str, Copy] = {}
    for rail in rails:
        for original in (place for place in rail.places if not place.suffix):
            away = back(original.motion)
            known |= {place.suffix: Copy(place.suffix, after(place.motion, away)) for place in rail.places if place.suffix}
    return replace(body, copies=tuple(known.values())) if known else body
