"""Edges round flat ends that are made round from the body's own surfaces: in moments, and without the kernel."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.blending import NO_ROOM, Blend, NotBlended
from wander.core.bodies.body import Body, of_shells
from wander.core.document.derived_names import blend_name
from wander.core.shaping.edges import pair_name
from wander.core.shaping.rolled_rim import NotRolled, RollsTooWide, rolled_rim
from wander.core.shaping.shell import Shell

HALVES = 6
"""Radii that are tried to say what goes."""


def rounded_rims(body: Body, blends: Sequence[Blend], maker: str) -> Body | None:
    """The body with its edges made round, where each of them goes all round a flat end and the sides there go on smoothly; None of any others.

    Raises NotBlended where there is no room.
    """
    if body.exact or body.rough is not None or len(body.skins) != 1:
        return None
    skin = body.skins[0]
    for number, blend in enumerate(blends):
        wanted = _rims(skin, blend)
        if wanted is None:
            return None
        for cap, chain, edge in wanted:
            try:
                skin = _rolled(skin, cap, chain, blend.largest, maker)
            except NotRolled:
                return None
            except RollsTooWide as error:
                fits = error.fits or _fits(skin, cap, chain, blend.largest, maker)
                raise NotBlended(NO_ROOM, edge, error.place, number, fits) from error
    return of_shells((skin,), body.along)


def _rolled(skin: Shell, cap: int, chain: int, radius: float, maker: str) -> Shell:
    return rolled_rim(skin, cap, chain, radius, lambda side, end: blend_name(maker, pair_name(side, end)))


def _rims(skin: Shell, blend: Blend) -> list[tuple[int, int, str]] | None:
    """The ends that the edges go round, each with its chain and one of its edges; None where there are others among them, or the radius changes."""
    sizes = blend.size(np.linspace(0.0, 1.0, 9))
    if blend.among is not None or not blend.edges or np.ptp(sizes) > 1e-12:
        return None
    left, found = set(blend.edges), []
    for cap, chains in enumerate(_edges_of_caps(skin)):
        for chain, names in enumerate(chains):
            if names and set(names) <= left:
                left -= set(names)
                found.append((cap, chain, names[0]))
    return None if left else found


def _edges_of_caps(skin: Shell) -> list[list[list[str]]]:
    """For each flat end its chains, each the names of its edges; a chain is empty where one of them can't be told."""
    names, count = skin.names, len(skin.faces)
    beside: dict[tuple[int, int], str] = {}
    for seam in skin.seams:
        for one, other in ((seam.first, seam.second), (seam.second, seam.first)):
            if one.part >= count:
                beside[one.part - count, int(one.side)] = pair_name(names[one.part], names[other.part])
    all_names = list(beside.values())
    found = []
    for number, cap in enumerate(skin.caps):
        chains, before = [], 0
        for chain in cap.chains:
            told = [beside.get((number, before + k), "") for k in range(len(chain))]
            chains.append(told if all(name and all_names.count(name) == 1 for name in told) else [])
            before += len(chain)
        found.append(chains)
    return found


def _fits(skin: Shell, cap: int, chain: int, radius: float, maker: str) -> float | None:
    """A radius that goes where this one does not, found by halves."""
    low, high = 0.0, radius
    for _ in range(HALVES):
        middle = (low + high) / 2
        try:
            _rolled(skin, cap, chain, middle, maker)
        except (RollsTooWide, NotRolled):
            high = middle
        else:
            low = middle
    return low or None
