"""What belongs together round the sections of a loft: which way each is run, where it starts, and a strip of the skin between every two corners."""

from __future__ import annotations

from collections.abc import Collection, Container, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.alignment import choose_starts, come_round, runs_backwards, wring
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.girth import Girth, Girths, girth_of
from wander.core.shaping.lengthwise import round_about
from wander.core.shaping.meeting import Guide, guides
from wander.core.shaping.panels import Panel, following_row, follows, panels, side_by_side
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.ties import on_way_there, tied_shares

WRUNG = 1.0
"""Degrees between neighbours above which a better matching is tried."""
MOST_TRIES = 3
OVER = (1.0, 0.875, 1.25)
"""Shares of the wring by which starts are turned back: near where two ways to match corners are as good, a little more or less decides."""


class CutsLead(Exception):
    """Sections that were cut from the skin can't follow it any more, and lead like any other. numbers: theirs."""

    def __init__(self, numbers: Collection[int]) -> None:
        super().__init__(f"cut sections lead: {sorted(numbers)}")
        self.numbers = numbers


@dataclass(frozen=True)
class Matched:
    """Sections (k,) whose places round them belong together.

    placed: as they are run; turned: whether that is against their drawing. leading: numbers of those that have a say. girths: of these, and starts:
    where each begins, as a share of it. tied: shares that ties go through, one row for each. guides: rails that meet the sections. led: panels with a
    row for each that leads; strips: with one for every section, side by side.
    """

    placed: tuple[PlacedSection, ...]
    turned: tuple[bool, ...]
    leading: tuple[int, ...]
    girths: Girths
    starts: tuple[float, ...]
    tied: tuple[Floats, ...]
    guides: tuple[Guide, ...]
    led: tuple[Panel, ...]
    strips: tuple[Panel, ...]

    @property
    def open(self) -> bool:
        """The sections are open: what lies between their ends has no other side."""
        return self.girths.each[0].open

    @property
    def chosen(self) -> list[float | None]:
        """Where each section starts in its own parameter, None for what leads nothing."""
        found: list[float | None] = [None] * len(self.placed)
        for i, at in zip(self.leading, self.girths.as_drawn(self.starts), strict=True):
            found[i] = at
        return found


def matched(
    sections: Sequence[PlacedSection],
    *,
    ties: Sequence[Mapping[int, float]],
    rails: Sequence[Curve],
    creases: Container[int],
    straight: bool,
    line: CentreLine | None,
    drawn: Sequence[PlacedSection],
    tolerances: Tolerances,
) -> Matched:
    """line: that the sections swing along; they stand where they would if it ran straight up, and drawn: where they were drawn, as rails are.

    Raises CutsLead, Missed for a rail that misses a section, Crossed for what crosses, BadInput where only some sections are open.
    """
    ring = line is not None and line.closed
    turned = runs_backwards(sections)
    placed = [_forward(s) if back and s.share is not None else s for s, back in zip(sections, turned, strict=True)]
    if first := {i for i, s in enumerate(placed) if s.share is not None and (rails or i in creases)}:
        raise CutsLead(range(len(placed)) if rails else first)
    leading = [i for i, s in enumerate(placed) if not s.is_point and s.share is None]
    loops = [girth_of(placed[i], turned[i]) for i in leading]
    girths, sheet = Girths(loops), loops[0].open
    if any(loop.open != sheet for loop in loops):
        raise BadInput("some of the sections are open and others closed")
    if sheet and ring:
        raise BadInput("a ring goes through closed sections, and these are open: close them, or give the sheet two ends")
    fixed = [_fixed(placed[i].start, loop) for i, loop in zip(leading, loops, strict=True)]
    starts = choose_starts(loops, fixed)
    if ring:
        starts = come_round(loops, starts, fixed)
    found = []
    if rails:
        found = guides(rails, placed, girths) if line is None else _guides_along(line, rails, drawn, leading, turned)
    begin = np.array(starts)
    known = [{n: loops[n].drawn_at(tie[i]) for n, i in enumerate(leading) if i in tie} for tie in ties]
    if sheet:
        known = [{n: on_way_there(at, starts[n]) for n, at in one.items()} for one in known]
    tied = [tied_shares(one, begin, ring=ring, within=0.5 if sheet else 1.0) for one in known]
    passed = [np.array([guide.meetings[i].share for i in leading], dtype=np.float64) for guide in found]
    pairs = [*tied, *(on_way_there(shares, begin) if sheet else shares for shares in passed)]
    if pairs and not sheet:
        # what belongs together says where outlines begin, unless the designer does
        starts = [float(first) if own is None else start for first, own, start in zip(pairs[0], fixed, starts, strict=True)]
    led = panels(girths, starts, tolerances, straight=straight, pairs=pairs, ring=ring)
    if not pairs and not ring and not sheet and len(leading) > 1:
        axis = placed[leading[-1]].center - placed[leading[0]].center
        starts, led = _unwrung(girths, starts, fixed, led, tolerances, straight=straight, axis=axis)
    # the skin may have other corners by now than when they were cut
    if other := {i for i, s in enumerate(placed) if s.share is not None and not follows(s, led)}:
        raise CutsLead(other)
    strips = side_by_side([_all_rows(panel, number, placed, leading) for number, panel in enumerate(led)])
    return Matched(tuple(placed), tuple(turned), tuple(leading), girths, tuple(starts), tuple(tied), tuple(found), tuple(led), tuple(strips))


def _guides_along(
    line: CentreLine, rails: Sequence[Curve], drawn: Sequence[PlacedSection], leading: Sequence[int], turned: Sequence[bool]
) -> list[Guide]:
    """Rails where they meet the sections as they were drawn, which have the same girths there."""
    leaves = line.places_on(np.array([0.0]))[1][0] if line.closed else None
    return guides(rails, drawn, Girths([girth_of(drawn[i], turned[i]) for i in leading]), leaves=leaves)


def _fixed(start: float | None, loop: Girth) -> float | None:
    """The share of the girth at which the designer wants a loop to start, an open one at an end; start: in the parameter of its outline as drawn."""
    if start is None:
        return None
    return (0.0 if start < 0.5 else 0.5) if loop.open else loop.drawn_at(start)


def _unwrung(
    girths: Girths,
    starts: list[float],
    chosen: Sequence[float | None],
    led: list[Panel],
    tolerances: Tolerances,
    *,
    straight: bool,
    axis: Floats,
) -> tuple[list[float], list[Panel]]:
    """Starts and panels that are matched again where the first matching wrings the body, as long as that makes it less.

    Which corners belong together can't be said from starts at corners alone, where sections have different ones. Starts that the designer chose stay.
    """
    if all(not girth.corners and not girth.joints for girth in girths.each):
        return starts, led
    turned = wring(round_about(led), axis)
    for _ in range(MOST_TRIES):
        if np.abs(turned).max() < WRUNG:
            break
        back = np.concatenate([[0.0], np.cumsum(turned)]) / 360
        back -= back.mean()  # the same from either end
        found = []
        for share in OVER:
            tried = [start if own is not None else float((start - share * by) % 1.0) for start, own, by in zip(starts, chosen, back, strict=True)]
            other = panels(girths, tried, tolerances, straight=straight)
            found.append((tried, other, wring(round_about(other), axis)))
        best = min(found, key=lambda one: round(float(np.abs(one[2]).sum()), 6))
        if np.abs(best[2]).sum() > np.abs(turned).sum() - WRUNG / 2:
            break
        starts, led, turned = best
    return starts, led


def _forward(section: PlacedSection) -> PlacedSection:
    """A section that was cut, turned to run the other way."""
    assert section.loop is not None
    return replace(section, loop=section.loop.reversed())


def _all_rows(panel: Panel, number: int, sections: Sequence[PlacedSection], leading: Sequence[int]) -> Panel:
    """The panel with a row for every section: of equal control points for a point, of the cut itself for one that follows."""
    if len(leading) == len(sections):
        return panel
    rows = np.empty((len(sections), panel.space.count, 3))
    deviation = np.zeros(len(sections))
    rows[leading], deviation[leading] = panel.rows, panel.deviation
    for i, section in enumerate(sections):
        if section.is_point:
            rows[i] = section.center
        elif section.share is not None:
            rows[i], deviation[i] = following_row(section, number, panel)
    return replace(panel, rows=rows, deviation=deviation)
