"""Findings about a drawing: holds in dispute, outlines that are unclear, and its health."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from wander.core.bodies.references import Hint
from wander.core.checks.references import PLACES
from wander.core.document.document import Step
from wander.core.document.edits import Draw, SetParam
from wander.core.document.fields import Ref
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.drawing.areas.health import Ailment
from wander.core.drawing.areas.regions import Region
from wander.core.drawing.holding.solver import Dispute
from wander.core.drawing.holds import HOLD_WORDS, MEASURES, AnyHold, Passing
from wander.core.drawing.model import Drawing, named
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame

MOST_FIXES, MOST_ALIKE = 8, 3
MOST_NAMED = 3
"""Curves that a sentence names one by one."""
LARGE = 1e4
"""mm2: from here on an area is told in cm2."""


def area_text(area: float) -> str:
    return f"{area:.4g} mm²" if area < LARGE else f"{area / 100:.5g} cm²"


def hold_in_words(hold: AnyHold, drawing: Drawing, typed: Mapping[str, Any], step_of: Callable[[Ref], Step]) -> str:
    """A hold as a designer would name it: `length 31 (line 2)`. typed: the value as it was typed, by id. step_of: the step that a reference means."""
    of = " and ".join(named(drawing, thing) for thing in hold.of)
    if isinstance(hold, Passing):
        return f"where {step_of(hold.rail).name} passes ({of})"
    if hold.type not in MEASURES:
        return f"{HOLD_WORDS[hold.type]} ({of})"
    value = typed.get(hold.id)
    return f"{HOLD_WORDS[hold.type]} {value:g} ({of})" if isinstance(value, int | float) else f"{HOLD_WORDS[hold.type]} {value} ({of})"


NO_EDGE = "The body has changed and does not have this edge any more."
NO_OUTLINE = "The plane of this drawing does not cross the body any more, or the body is open, so that nothing lies inside of it."


@dataclass(frozen=True)
class LostTrace:
    """What a trace followed and its body has no longer. number: of the curve in the drawing.

    near: the nearest edges, with their hint and distance, mm. whole: it was an outline of the body, not one of its edges.
    """

    number: int
    curve: str
    part: str
    near: Sequence[tuple[str, Hint, float]]
    whole: bool = False


class DrawingCheck:
    """Everything there is to say about the drawing of one section, which was turned and moved on the plane of its frame.

    step_of: the step that a reference means.
    """

    def __init__(self, step: Step, drawing: Drawing, frame: Frame, turned: Floats, moved: Floats, step_of: Callable[[Ref], Step]) -> None:
        self._step = step
        self._step_of = step_of
        self._drawing = drawing
        self._frame = frame
        self._turned, self._moved = turned, moved
        self._typed = {hold["id"]: hold.get("value") for hold in step.params["shape"].get("holds", [])}
        self._holds = {hold.id: hold for hold in drawing.holds}

    def _points(self, *places: Sequence[float] | Floats) -> list[tuple[float, float, float]]:
        found = [self._frame.lift((self._turned @ list(place) + self._moved)[None])[0] for place in places]
        return [(float(p[0]), float(p[1]), float(p[2])) for p in found]

    def _fix(self, label: str, *acts: dict[str, Any]) -> Fix:
        return Fix(label=label, edits=[Draw.model_validate({"do": "draw", "step": self._step.id, "acts": list(acts)})])

    def _words(self, hold: str) -> str:
        return hold_in_words(self._holds[hold], self._drawing, self._typed, self._step_of)

    def traces(self, lost: Sequence[LostTrace]) -> list[Finding]:
        """Edges and outlines that were traced and are gone: the drawing keeps them where they were."""
        found = []
        for trace in lost:
            fixes = []
            path: list[str | int] = ["shape", "curves", trace.number, "of"]
            of = self._step.params["shape"]["curves"][trace.number]["of"]
            for (name, hint, distance), place in zip(trace.near, PLACES, strict=False):
                follow = SetParam(do="set-param", step=self._step.id, path=path, value={**of, "part": name, "hint": list(hint)})
                away = f", {distance:.3g} mm away" if distance else ""
                fixes.append(Fix(label=f"Follow the {place} edge{away}", edits=[follow], names=[name]))
            fixes.append(self._fix("Take the trace away", {"act": "drop", "things": [trace.curve]}))
            found.append(
                Finding(
                    code="trace-lost",
                    severity=Severity.WARNING,
                    step=self._step.id,
                    title=f"The {'outline' if trace.whole else 'edge'} that {named(self._drawing, trace.curve)} follows is gone",
                    detail=f"{NO_OUTLINE if trace.whole else NO_EDGE} The drawing keeps it where it was last.",
                    path=["shape", "curves", trace.number],
                    where=Where(names=[trace.curve, *(name for name, _, _ in trace.near)]),
                    fixes=fixes,
                )
            )
        return found

    def missed(self, missed: Sequence[Passing]) -> list[Finding]:
        """Points that were held where a rail passed that does not any more: they keep the place that they had."""
        return [
            Finding(
                code="rail-misses-point",
                severity=Severity.WARNING,
                step=self._step.id,
                title=f"{self._step_of(hold.rail).name} does not pass {self._step.name} any more",
                detail="It ends before it comes to this plane, or lies beside it. "
                f"{point[0].upper()}{point[1:]}, which is held to it, stays where it passed last.",
                path=["shape", "holds"],
                where=Where(points=self._points(hold.at), names=[hold.id]),
                fixes=[self._fix("Let go of the rail", {"act": "drop", "things": [hold.id]})],
            )
            for hold in missed
            for point in [named(self._drawing, hold.of[0])]
        ]

    def disputes(self, disputes: Sequence[Dispute]) -> list[Finding]:
        """One hold too many: which ones are at odds, each of which can go, or stay as a number that tells."""
        found = []
        for dispute in disputes:
            words = [self._words(i) for i in dispute.holds]
            last = self._words(dispute.last)
            together = "These can’t all be true" if dispute.conflict else "These say the same twice"
            fixes = []
            if self._holds[dispute.last].type in MEASURES:
                fixes.append(self._fix(f"Only read {last}", {"act": "reading", "hold": dispute.last}))
            order = [dispute.last, *(i for i in dispute.holds if i != dispute.last)]
            fixes += [self._fix(f"Drop {self._words(i)}", {"act": "drop", "things": [i]}) for i in order]
            found.append(
                Finding(
                    code="holds-contradict" if dispute.conflict else "hold-too-many",
                    severity=Severity.ERROR if dispute.conflict else Severity.WARNING,
                    step=self._step.id,
                    title=f"{last[0].upper()}{last[1:]} " + ("contradicts what else is held" if dispute.conflict else "is held already"),
                    detail=f"{together}: {'; '.join(words)}. One of them has to go.",
                    path=["shape", "holds"],
                    where=Where(names=list(dispute.holds)),
                    fixes=fixes[:MOST_FIXES],
                )
            )
        return found

    def ailments(self, ailments: Sequence[Ailment]) -> list[Finding]:
        return [self._ailment(ailment) for ailment in ailments]

    def _ailment(self, ailment: Ailment) -> Finding:
        title, detail, label = self._many(ailment) if ailment.count > 1 else self._one(ailment)
        fixes = [self._fix(label, *ailment.mend)] if ailment.mend else []
        severity = Severity.NOTE if ailment.kind == "needless-split" else Severity.WARNING
        where = Where(points=self._points(*ailment.places), names=list(ailment.curves))
        return Finding(code=ailment.kind, severity=severity, step=self._step.id, title=title, detail=detail, path=["shape"], where=where, fixes=fixes)

    @staticmethod
    def _many(ailment: Ailment) -> tuple[str, str, str]:
        """Title, detail and the word for the repair of many that are alike."""
        count = ailment.count
        return {
            "gap": (
                f"{count} gaps of up to {ailment.size:.3g} mm",
                "At each of the marked places two ends lie near each other, but not on one point.",
                "Close all gaps",
            ),
            "doubled": (
                f"{count} curves lie on others",
                "At the marked places one curve runs along another, all the way.",
                "Take the doubles away",
            ),
            "crosses-itself": (
                f"The outline crosses itself in {count} places",
                "An outline has an inside; this one runs over itself.",
                "Keep the largest part",
            ),
            "sliver": (
                f"{count} curves are too short to be meant",
                f"They are {ailment.size:.2g} mm long and less.",
                "Take them away and close up",
            ),
            "needless-split": (
                f"{len(ailment.curves)} curves could be {count}",
                "At the marked places they go on in each other without a bend.",
                "Join them",
            ),
        }[ailment.kind]

    def _one(self, ailment: Ailment) -> tuple[str, str, str]:
        """The same of one by itself."""
        called = [named(self._drawing, curve) for curve in ailment.curves]
        curves = " and ".join(dict.fromkeys(called)) if len(called) <= MOST_NAMED else f"{called[0]} and {len(called) - 1} more"
        first = curves[:1].upper() + curves[1:]
        return {
            "gap": (f"A gap of {ailment.size:.3g} mm", f"The ends of {curves} lie near each other, but not on one point.", "Close the gap"),
            "doubled": (
                f"{first} lie on each other",
                f"Over {ailment.size:.3g} mm one curve runs along the other.",
                "Take one away",
            ),
            "sliver": (
                f"{first} is only {ailment.size:.2g} mm long",
                "It is too short to be meant.",
                "Take it away and close up",
            ),
            "needless-split": (f"{first} could be one curve", "They go on in each other without a bend.", "Join them"),
            "no-offset": (
                f"There is no such offset of {called[-1]}",
                f"It bends more tightly by now than {called[0]} is away from it, or has a corner.",
                f"Offset it by {ailment.size:.3g} mm" if ailment.mend[0]["act"] == "measure" else "Take the offset away",
            ),
            "crosses-itself": (
                f"The outline crosses itself ({curves})",
                "An outline has an inside; this one runs over itself.",
                "Keep the largest part",
            ),
        }[ailment.kind]

    def unclear(self, regions: Sequence[Region], missing: Sequence[str], gaps: Sequence[Ailment]) -> Finding:
        """There is no outline yet: nothing closed, several areas to choose from, or a chosen one that is gone."""
        name = self._step.name
        if not regions:
            close = [act for gap in gaps for act in gap.mend]
            return Finding(
                code="not-closed",
                severity=Severity.ERROR,
                step=self._step.id,
                title=f"{name} has no closed outline yet" if self._drawing.curves else f"Nothing is drawn on {name} yet",
                detail="A body needs a closed outline: curves that follow each other end to end, all the way round.",
                path=["shape"],
                where=Where(points=self._points(*(place for gap in gaps for place in gap.places))),
                fixes=[self._fix("Close the gaps", *close)] if close else [],
            )
        by_size = sorted(regions, key=lambda r: -r.area)
        alike = Counter(area_text(region.area) for region in regions)
        # of many that read alike none could be told by its words
        choices = [
            self._fix(f"Use the area of {area_text(region.area)}", {"act": "use", "regions": [region.name]})
            for region in by_size
            if alike[area_text(region.area)] <= MOST_ALIKE
        ]
        if missing:
            title, code = f"The area that {name} used is gone", "region-gone"
            detail = "The drawing was changed where it bounds the area. Choose the one to use from now on, here or by a click into it."
        else:
            title, code = f"{name} has {len(regions)} areas", "which-region"
            detail = "A body needs one outline. Choose an area, here or by a click into it, or turn the lines inside into construction."
        fixes = choices
        inner = self._inner(regions)
        if inner:
            whole = {"act": "use", "regions": None}
            fixes = [self._fix("Turn the lines inside into construction", {"act": "construction", "curves": inner}, whole), *choices]
        return Finding(
            code=code,
            severity=Severity.ERROR,
            step=self._step.id,
            title=title,
            detail=detail,
            path=["shape", "use"],
            where=Where(points=self._points(*(r.begins for r in by_size[:MOST_FIXES]))),
            fixes=fixes[:MOST_FIXES],
        )

    @staticmethod
    def _inner(regions: Sequence[Region]) -> list[str]:
        """Curves that lie inside the outermost outline: with an area on either side, or round something that is cut out."""
        curve_of = {side.part: curve for region in regions for side, curve in zip(region.sides, region.curves, strict=True)}
        sides = {(side.part, side.forward) for region in regions for side in region.sides}
        shared = {part for part, forward in sides if (part, not forward) in sides}
        nested = {side.part for region in regions for walk in region.inner for side in walk}
        outer = {curve_of[part] for part, forward in sides if part not in shared | nested}
        return sorted({curve_of[part] for part in shared | nested if part in curve_of} - outer)
