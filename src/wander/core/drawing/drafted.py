"""A section drawn on its station: its drawing solved, its regions found, its outline taken, and what is to be said of all that."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from math import degrees

import numpy as np

from wander.core.drawing.areas.faces import PER_SPAN, goes_round
from wander.core.drawing.areas.health import Ailment, ailments
from wander.core.drawing.areas.regions import Graph, crossings_with_construction, graph
from wander.core.drawing.curves.pieces import Piece, pieces
from wander.core.drawing.holding.solver import Dispute, Solved, solve
from wander.core.drawing.holds import AngleMeasure
from wander.core.drawing.lines import lines_of
from wander.core.drawing.model import Drawing
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.summary import DrawingSummary, DrawnCrossing, DrawnDispute, DrawnLines, DrawnPath, DrawnRegion

MOST_CROSSINGS = 400
"""More than can be pointed at."""
SOMEWHERE = np.array([0.137])
"""A place on an outline that is hardly ever a special one."""


@dataclass(frozen=True)
class Drafted:
    """A drawing worked out."""

    solved: Solved

    @property
    def drawing(self) -> Drawing:
        return self.solved.drawing

    @cached_property
    def lines(self) -> DrawnLines:
        return lines_of(self.drawing)

    def piece_by_piece(self) -> Iterator[object]:
        """What takes long in a large drawing, one after the other: between them there is time for something newer."""
        yield self.pieces
        yield self.disputes
        yield self.graph
        yield self.graph.regions
        yield self.ailments

    @cached_property
    def pieces(self) -> list[Piece]:
        return pieces(self.drawing)

    @cached_property
    def graph(self) -> Graph:
        return graph(self.pieces)

    @cached_property
    def ailments(self) -> list[Ailment]:
        return ailments(self.drawing, self.pieces, self.graph)

    @property
    def disputes(self) -> tuple[Dispute, ...]:
        return self.solved.standing.disputes

    @cached_property
    def missing(self) -> list[str]:
        """Chosen regions that there are no longer."""
        known = {region.name for region in self.graph.regions}
        return [name for name in self.drawing.use or [] if name not in known]

    @cached_property
    def chosen(self) -> list[str]:
        """The regions that make the outline; empty where that is not clear."""
        if self.drawing.use is not None:
            return [] if self.missing else list(self.drawing.use)
        regions = self.graph.regions
        return [regions[0].name] if len(regions) == 1 else []

    @cached_property
    def outlines(self) -> list[Loop]:
        """Outlines round the chosen regions, the largest first."""
        return [self.graph.loop(walk) for walk in self.graph.union(self.chosen)]

    @cached_property
    def areas(self) -> list[Area]:
        """What the chosen regions enclose together, with the holes that none of them fills."""
        outer, holes = [], []
        chosen = [region for region in self.graph.regions if region.name in self.chosen]
        filled = {frozenset(side.part for side in region.sides) for region in chosen}
        inner = [walk for region in chosen for walk in region.inner]
        spared = {frozenset(side.part for side in walk) for walk in inner}
        for walk in self.graph.union(self.chosen):
            loop = self.graph.loop(walk)
            if loop.area < 0:
                holes.append(loop)
            elif frozenset(side.part for side in walk) not in spared:
                outer.append(loop)
        for walk in inner:
            if frozenset(side.part for side in walk) not in filled:
                loop = self.graph.loop(walk)
                holes.append(loop if loop.area < 0 else loop.reversed())
        homes = [
            min((o for o in outer if goes_round(o.curve.sampled(PER_SPAN)[1], hole.curve(SOMEWHERE)[0])), key=lambda o: o.area, default=None)
            for hole in holes
        ]
        return [Area(o, tuple(hole for hole, home in zip(holes, homes, strict=True) if home is o)) for o in outer]

    @property
    def _box(self) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """Round the control points: a little more than the curves take."""
        points = [p.curve.points for p in self.pieces if not p.construction] or [p.curve.points for p in self.pieces]
        if not points:
            return None
        (a, b), (c, d) = (np.min([p.min(axis=0) for p in points], axis=0), np.max([p.max(axis=0) for p in points], axis=0))
        return (float(a), float(b)), (float(c), float(d))

    def summary(self) -> DrawingSummary:
        held = self.solved.standing.held
        angles = {h.id for h in self.drawing.holds if isinstance(h, AngleMeasure)}
        return DrawingSummary(
            points=self.lines.points,
            held=sorted(p for p in held if p in self.drawing.points),
            curves=[DrawnPath(id=c.id, path=self.lines.paths[c.id], held=c.id in held, construction=c.construction) for c in self.drawing.curves],
            regions=[
                DrawnRegion(
                    name=r.name,
                    path=" ".join(self.graph.path(walk) for walk in (r.sides, *r.inner)),
                    area=r.area,
                    used=r.name in self.chosen,
                    at=(float(r.centroid[0]), float(r.centroid[1])),
                )
                for r in self.graph.regions
            ],
            measures={i: degrees(value) if i in angles else value for i, value in self.solved.measures.items()},
            freedoms=self.solved.standing.freedoms,
            crossings=[
                DrawnCrossing(at=(round(float(at[0]), 9), round(float(at[1]), 9)), of=of)
                for at, of in [*self.graph.crossed, *crossings_with_construction(self.pieces)]
                if of[0] != of[1]
            ][:MOST_CROSSINGS],
            box=self._box,
            disputes=[DrawnDispute(holds=list(d.holds), last=d.last, conflict=d.conflict) for d in self.disputes],
        )


class Draftings:
    """Drawings worked out lately: dragging a station asks for the same one again and again."""

    def __init__(self, most: int = 64) -> None:
        self._most = most
        self._kept: OrderedDict[str, Drafted] = OrderedDict()

    def of(self, shape: Drawing) -> Drafted:
        key = shape.model_dump_json()
        found = self._kept.get(key)
        if found is None:
            found = self._kept[key] = Drafted(solve(shape))
            if len(self._kept) > self._most:
                self._kept.popitem(last=False)
        else:
            self._kept.move_to_end(key)
        return found
