"""Late references under early changes: the same thing, or a finding with candidates by distance; never another thing.

What is the same thing is told by geometry alone: a side goes through the middle of the drawn line that it was made from, an edge along the body
through the corner, a rim through the middle of its line.
"""

from __future__ import annotations

import copy
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, event, example, given, settings
from hypothesis import strategies as st

from tests.core.design.designs import built
from tests.soak import times
from wander.core.bodies.body import Body, Edge, Face
from wander.core.bodies.references import edge_of, face_of, hint_at, middle_of
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document

LOFT = "loft-7"


@dataclass(frozen=True)
class Drawn:
    """A section drawn as a closed chain of lines: points by id, and the two ends of each line."""

    points: dict[str, tuple[float, float]]
    lines: dict[str, tuple[str, str]]

    def middle(self, line: str) -> np.ndarray:
        a, b = (np.array(self.points[p]) for p in self.lines[line])
        return (a + b) / 2

    def shape(self) -> dict[str, Any]:
        curves = [{"id": c, "type": "line", "start": a, "end": b} for c, (a, b) in self.lines.items()]
        return {"type": "drawing", "points": dict(self.points), "curves": curves}


def polygon(corners: int, radius: float, turn: float, first: int = 1) -> Drawn:
    at = turn + 2 * np.pi * np.arange(corners) / corners
    points = {f"p{first + i}": (float(radius * np.cos(t)), float(radius * np.sin(t))) for i, t in enumerate(at)}
    ids = list(points)
    return Drawn(points, {f"c{first + i}": (ids[i], ids[(i + 1) % corners]) for i in range(corners)})


def design(sections: list[tuple[float, Drawn]], between: str, later: list[dict[str, Any]], order: list[int], starts: dict[int, float]) -> Document:
    steps: list[dict[str, Any]] = []
    for i, (offset, drawn) in enumerate(sections):
        # a section that is put in later has later numbers
        number = (1, 3, 5, 20)[i]
        steps.append({"id": f"station-{number}", "kind": "station", "name": f"Station {i}", "params": {"plane": "top", "offset": offset}})
        params = {"station": {"step": f"station-{number}"}, "shape": drawn.shape()}
        steps.append({"id": f"section-{number + 1}", "kind": "section", "name": f"Section {i}", "params": params})
    items = [{"section": {"step": f"section-{(1, 3, 5, 20)[i] + 1}"}, **({"start": starts[i]} if i in starts else {})} for i in order]
    steps.append({"id": LOFT, "kind": "loft", "name": "Hull", "params": {"sections": items, "between": between}})
    return Document.model_validate({"format": "wander-design/1", "name": "Late", "steps": [*steps, *later], "next": 40})


def goes_through(thing: Face | Edge, place: np.ndarray, size: float) -> bool:
    """Whether a side or an edge goes through a place on one of the sections: looked for among many, at the sections' own parameters."""
    if isinstance(thing, Edge):
        samples = thing.curve(np.union1d(np.linspace(*thing.curve.domain, 801), thing.curve.space.breaks))
    else:
        assert thing.surface is not None
        samples = thing.surface.grid(np.linspace(*thing.surface.u.domain, 401), thing.surface.v.breaks).reshape(-1, 3)
    return bool(np.linalg.norm(samples - place, axis=1).min() < 0.02 * size)


def lies_on(thing: Face | Edge, a: np.ndarray, b: np.ndarray) -> bool:
    """Whether part of a side or an edge lies on the line between two places, not at its ends alone."""
    if isinstance(thing, Edge):
        samples = thing.curve(np.linspace(*thing.curve.domain, 401))
    else:
        assert thing.surface is not None
        samples = thing.surface.grid(np.linspace(*thing.surface.u.domain, 201), thing.surface.v.breaks).reshape(-1, 3)
    way = b - a
    share = (samples - a) @ way / (way @ way)
    away = np.linalg.norm(samples - a - share[:, None] * way, axis=1)
    return bool(np.any((away < 1e-5 * np.linalg.norm(way)) & (share > 0.01) & (share < 0.99)))


def before_and_after(kind: str, target: str, body: Body, place: np.ndarray, size: float) -> tuple[str, list[float]] | None:
    """Name and hint of the one thing of the kind that goes through the place: at a corner an edge along the body, on a line a rim."""
    things: list[Any] = [f for f in body.faces if f.surface is not None]
    if kind != "face":
        things = [e for e in body.edges if not e.smooth and ("end:" in e.name) == (target == "line")]
    found = [thing for thing in things if goes_through(thing, place, size)]
    if len(found) != 1:
        return None
    at = middle_of(found[0]) if kind == "face" else found[0].curve(np.mean(found[0].curve.domain))
    return found[0].name, list(hint_at(body, at))


def reference(kind: str, of: str, part: str, hint: list[float]) -> list[dict[str, Any]]:
    """A late step that holds the reference: a station on a face; a rail along an edge, or a section that traces it."""
    ref = {"step": of, "part": part, "hint": hint}
    if kind == "face":
        return [{"id": "station-30", "kind": "station", "name": "Late", "params": {"place": {"type": "touching", "face": ref, "around": 0.5}}}]
    if kind == "edge":
        return [{"id": "rail-30", "kind": "rail", "name": "Late", "params": {"shape": {"type": "edges", "edge": ref}}}]
    trace = {"id": "c1", "type": "trace", "of": ref, "construction": True}
    square = polygon(4, 3.0, 0.2, first=10)
    shape = square.shape() | {"curves": [trace, *square.shape()["curves"]]}
    return [{"id": "section-30", "kind": "section", "name": "Late", "params": {"station": {"step": "station-1"}, "shape": shape}}]


CHANGES = ["corner", "order", "between", "start", "redrawn", "mirrored", "scaled", "turned"]


def changed(
    sections: list[tuple[float, Drawn]], change: str, which: int, amount: float
) -> tuple[list[tuple[float, Drawn]], list[int], dict[int, float]]:
    """The sections, their order and their starts after an early change."""
    found = copy.deepcopy(sections)
    order, starts = list(range(len(found))), dict[int, float]()
    offset, drawn = found[which]
    match change:
        case "corner":  # a further corner in the middle of the first line, pulled out a little
            line, (a, b) = next(iter(drawn.lines.items()))
            out = tuple((drawn.middle(line) * 1.15).tolist())
            points = {**drawn.points, "p90": out}
            lines = {c: ((a, "p90") if c == line else ends) for c, ends in drawn.lines.items()} | {"c90": ("p90", b)}
            found[which] = (offset, Drawn(points, lines))
        case "order":
            order[-2:] = order[-2:][::-1]
        case "between":
            found.append(((found[0][0] + found[1][0]) / 2, polygon(5, 17.0, amount, first=1)))
            order = [0, 3, *range(1, 3)] if len(sections) == 3 else order
        case "start":
            starts[which] = 1 / len(drawn.lines)
        case "redrawn":
            found[which] = (offset, polygon(len(drawn.lines), 14.0, amount, first=50))
        case "mirrored":
            found[which] = (offset, Drawn({p: (-x, y) for p, (x, y) in drawn.points.items()}, drawn.lines))
        case "scaled":
            found = [(10 * o, Drawn({p: (10 * x, 10 * y) for p, (x, y) in d.points.items()}, d.lines)) for o, d in found]
        case "turned":
            c, s = np.cos(amount), np.sin(amount)
            found[which] = (offset, Drawn({p: (float(c * x - s * y), float(s * x + c * y)) for p, (x, y) in drawn.points.items()}, drawn.lines))
    return found, order, starts


@pytest.mark.timeout(400)
@settings(max_examples=times(40, 300), deadline=None, phases=(Phase.explicit, Phase.reuse, Phase.generate), suppress_health_check=list(HealthCheck))
@given(
    counts=st.tuples(*[st.integers(3, 6)] * 3),
    turns=st.tuples(*[st.floats(0, 0.8)] * 3),
    between=st.sampled_from(["smooth", "straight"]),
    kind=st.sampled_from(["face", "edge", "trace"]),
    target=st.sampled_from(["line", "corner"]),
    pick=st.integers(0, 5),
    end=st.sampled_from([0, 2]),
    body=st.sampled_from([LOFT, "mirror-8", "move-8", "repeat-8"]),
    change=st.sampled_from(CHANGES),
    which=st.integers(0, 2),
    amount=st.floats(0.05, 1.5),
)
@example(  # a section has no say any more at a side that is like the one it was drawn as, and says it of another
    counts=(5, 4, 3),
    turns=(0.5795970607770007, 7.314764707651367e-22, 0.6952005206960683),
    between="straight",
    kind="face",
    target="line",
    pick=1,
    end=2,
    body=LOFT,
    change="mirrored",
    which=1,
    amount=1.4999999999999998,
)
@example(  # the first section's own corner moves away from an edge that is a corner of the others
    counts=(3, 4, 6),
    turns=(0.3210533889434506, 0.7475770214571269, 2.8152224070926563e-10),
    between="smooth",
    kind="edge",
    target="corner",
    pick=2,
    end=0,
    body=LOFT,
    change="between",
    which=1,
    amount=0.846331655236893,
)
def test_the_same_thing_or_a_finding(counts, turns, between, kind, target, pick, end, body, change, which, amount) -> None:
    sections = [(offset, polygon(n, r, t)) for offset, n, r, t in zip((0.0, 20.0, 45.0), counts, (20.0, 16.0, 22.0), turns, strict=True)]
    if kind == "face":
        target = "line"
    offset, drawn = sections[end]
    line = list(drawn.lines)[pick % len(drawn.lines)]
    size = float(np.linalg.norm(np.subtract(*(drawn.points[p] for p in drawn.lines[line]))))
    done = worked_on(body)
    first = built(design(sections, between, done, [0, 1, 2], {}))
    if not isinstance(first[LOFT].result, Body) or not isinstance(first[body].result, Body):
        event("no body to begin with")
        return
    place = image(body, place_on(offset, drawn, line, target))
    named = before_and_after("face" if kind == "face" else "edge", target, first[body].result, place, size)
    if named is None:
        event("several things there")
        return
    late = reference(kind, body, *named)
    after_sections, order, starts = changed(sections, change, which, amount)
    after = built(design(after_sections, between, [*done, *late], order, starts), Memory())
    step = after[late[0]["id"]]
    found = after[body].result
    if not isinstance(found, Body):
        event(f"{change}: the body itself says why")
        assert after[LOFT].findings
        return
    new_offset, new_drawn = after_sections[end]
    if line not in new_drawn.lines:
        event(f"{change}: what it was made from is gone")
        assert_lost(step, found)
        return
    lost = [f for f in step.findings if f.code in ("broken-reference", "trace-lost")]
    if lost:
        event(f"{change}: a finding")
        assert_lost(step, found)
        return
    event(f"{change}: the same thing")
    assert step.state in (State.READY, State.FAILED)
    thing = face_of(found, named[0], tuple(named[1])) if kind == "face" else edge_of(found, named[0], tuple(named[1]))
    scale = 10 if change == "scaled" else 1
    here = image(body, place_on(new_offset, new_drawn, line, target))
    if target == "line":
        # where other sections have more corners a side has a part of the line
        ends = [image(body, np.array([*new_drawn.points[p], new_offset])) for p in new_drawn.lines[line]]
        assert lies_on(thing, *ends), f"{named[0]} is another thing now"
    else:
        assert goes_through(thing, here, size * scale), f"{named[0]} is another thing now"


def place_on(offset: float, drawn: Drawn, line: str, target: str) -> np.ndarray:
    flat = drawn.middle(line) if target == "line" else np.array(drawn.points[drawn.lines[line][0]])
    return np.array([flat[0], flat[1], offset])


def worked_on(body: str) -> list[dict[str, Any]]:
    match body:
        case "mirror-8":
            return [{"id": body, "kind": "mirror", "name": "Image", "params": {"body": {"step": LOFT}, "plane": "side", "offset": 300.0}}]
        case "move-8":
            return [
                {"id": body, "kind": "move", "name": "Away", "params": {"body": {"step": LOFT}, "by": [5.0, 6.0, 7.0], "angle": 90.0, "axis": "x"}}
            ]
        case "repeat-8":
            way = {"type": "line", "by": [0.0, 900.0, 0.0]}
            return [{"id": body, "kind": "repeat", "name": "Row", "params": {"body": {"step": LOFT}, "count": 2, "way": way}}]
        case _:
            return []


def image(body: str, place: np.ndarray) -> np.ndarray:
    """Where a place of the loft is after what was done to it."""
    match body:
        case "mirror-8":
            return np.array([600.0 - place[0], place[1], place[2]])
        case "move-8":
            return np.array([place[0] + 5.0, -place[2] + 6.0, place[1] + 7.0])
        case _:
            return place


def assert_lost(step: StepBuilt, body: Body) -> None:
    """The finding holds out candidates that are there, the nearest first, and none is taken by itself."""
    finding = next(f for f in step.findings if f.code in ("broken-reference", "trace-lost"))
    fixes = [fix for fix in finding.fixes if fix.names]
    assert fixes
    known = {face.name for face in body.faces} | {edge.name for edge in body.edges}
    assert all(fix.names[0] in known for fix in fixes)
    away = [float(fix.label.rsplit(", ", 1)[1].split()[0]) if ", " in fix.label else 0.0 for fix in fixes]
    assert away == sorted(away)


@pytest.mark.parametrize("angle", [39.0, 40.0, 41.0])
def test_a_station_stays_on_its_side_when_a_section_above_is_turned(angle: float) -> None:
    """The sides of the two sections pair up differently at 40 degrees than at 39: the station stays with the line it was put on."""
    low, high = polygon(4, 20.0, np.pi / 4), polygon(4, 20.0, np.radians(angle) + np.pi / 4)
    sections = [(0.0, low), (40.0, high), (60.0, high)]
    straight = [(0.0, low), (40.0, low), (60.0, low)]
    plain = built(design(straight, "smooth", [], [0, 1, 2], {}))[LOFT].result
    name = next(f.name for f in plain.faces if f.surface is not None and goes_through(f, place_on(0.0, low, "c1", "line"), 20.0))
    late = [
        {
            "id": "station-30",
            "kind": "station",
            "name": "Late",
            "params": {"place": {"type": "touching", "face": {"step": LOFT, "part": name}, "along": 0.0}},
        }
    ]
    step = built(design(sections, "smooth", late, [0, 1, 2], {}))["station-30"]
    if step.state is State.FAILED:
        assert [f.code for f in step.findings] == ["broken-reference"]
        return
    frame = step.result
    a, b = (np.array([*low.points[p], 0.0]) for p in low.lines["c1"])
    assert np.linalg.norm(np.cross(frame.origin - a, b - a)) < 1e-6 * 400


@pytest.mark.parametrize("bays", [2, 3])
def test_a_section_put_before_a_straight_loft_renames_no_bay(bays: int) -> None:
    sections = [(20.0 * i, polygon(4, 20.0 - i, 0.1)) for i in range(bays)]
    names = {f.name for f in built(design(sections, "straight", [], list(range(bays)), {}))[LOFT].result.faces if f.surface is not None}
    more = [*sections, *[(0.0, polygon(4, 10.0, 0.0))] * (3 - bays), (-20.0, polygon(4, 15.0, 0.1))]
    order = [3, *range(bays)]
    after = {f.name for f in built(design(more, "straight", [], order, {}))[LOFT].result.faces if f.surface is not None}
    assert names <= after
    assert len(after) == len(names) + 4


def test_old_documents_are_moved_over_to_the_new_names() -> None:
    from wander.core.design.apply import apply_edits
    from wander.core.design.migration import renaming_edits
    from wander.core.document.old_names import needs_renaming

    sections = [(0.0, polygon(4, 20.0, 0.3)), (30.0, polygon(4, 15.0, 0.3)), (50.0, polygon(4, 18.0, 0.3))]
    for part in ("side.2", "side.3"):
        old = f"{LOFT}/{part}"
        document = design(sections, "smooth", reference("face", LOFT, old, [0.5, 0.5, 0.5]), [0, 1, 2], {})
        before = built(document)["station-30"].result
        assert needs_renaming(document)
        moved_over = apply_edits(document, renaming_edits(document, Memory()))
        assert not needs_renaming(moved_over)
        after = built(moved_over)["station-30"].result
        assert np.allclose(before.origin, after.origin)
        name = moved_over.step("station-30").params["place"]["face"]["part"]
        assert name.startswith(f"{LOFT}/2.c")
    edge = design(sections, "straight", reference("edge", LOFT, f"{LOFT}/side.1.2|{LOFT}/side.2.2", [0.5, 0.5, 0.5]), [0, 1, 2], {})
    assert built(edge)["rail-30"].state is State.READY
    assert not needs_renaming(apply_edits(edge, renaming_edits(edge, Memory())))
