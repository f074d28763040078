"""Late references to sides of a sweep under changes of its section and of its path: the same side or a word that it is lost, never another one.

What is the same side is told by geometry alone: it goes through the middle of the line that was drawn, carried to the middle of the piece of the
path.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from tests.core.design.designs import built
from tests.core.design.test_late_references import Drawn, polygon
from tests.core.steps.test_sweep_step import BAR, along, line
from tests.soak import times
from wander.core.bodies.body import Body, Face
from wander.core.bodies.continuity import look_at
from wander.core.bodies.references import Lost, face_of, hint_at, middle_of
from wander.core.document.document import Document

Row = npt.NDArray[np.float64]
UP = np.array([0.0, 0.0, 1.0])


def chain(points: list[tuple[float, float]], first: int = 1) -> Drawn:
    ids = [f"p{first + i}" for i in range(len(points))]
    return Drawn(dict(zip(ids, points, strict=True)), {f"c{first + i}": (ids[i], ids[i + 1]) for i in range(len(points) - 1)})


def document(section: Drawn, path: Drawn) -> Document:
    ground = {"station": {"step": "station-1"}}
    steps: list[dict[str, Any]] = [
        {"id": "station-1", "kind": "station", "name": "Ground", "params": {"plane": "top"}},
        {"id": "section-2", "kind": "section", "name": "Profile", "params": {**ground, "shape": section.shape()}},
        {"id": "rail-3", "kind": "rail", "name": "Way", "params": {**ground, "shape": path.shape()}},
        {"id": "sweep-4", "kind": "sweep", "name": "Rim", "params": {"section": {"step": "section-2"}, "path": {"step": "rail-3"}}},
    ]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 5})


def body_of(section: Drawn, path: Drawn) -> Body | None:
    step = built(document(section, path))["sweep-4"]
    return step.result if isinstance(step.result, Body) else None


def middle(section: Drawn, path: Drawn, line: str, piece: str, *, backwards: bool) -> Row:
    """Where the middle of a line comes in the middle of a piece. The path begins at its oldest end."""
    corners = np.array(list(section.points.values()))
    x, y = corners.T
    turn = x * np.roll(y, -1) - np.roll(x, -1) * y
    centre = np.array([((x + np.roll(x, -1)) * turn).sum(), ((y + np.roll(y, -1)) * turn).sum()]) / (3 * turn.sum())
    off = section.middle(line) - centre
    a, b = (np.append(path.points[p], 0.0) for p in path.lines[piece])
    way = (b - a) / np.linalg.norm(b - a) * (-1 if backwards else 1)
    across = np.cross(UP, way)
    return np.asarray((a + b) / 2 + off[0] * across + off[1] * UP)


def through(body: Body, place: Row) -> list[Face]:
    found = []
    for face in body.faces:
        if face.surface is None:
            continue
        seen = look_at(face, place[None])
        if seen is not None and np.linalg.norm(seen.points[0] - place) < 1e-6:
            found.append(face)
    return found


@settings(max_examples=times(15, 300), deadline=None)
@given(
    corners=st.integers(3, 6),
    turn=st.floats(0.1, 1.4),
    bends=st.lists(st.floats(-1.0, 1.0).filter(lambda bend: abs(bend) > 0.05), max_size=3),
    change=st.sampled_from(["section-moved", "section-corner", "path-corner", "path-before", "path-moved", "scaled", "section-again"]),
    at=st.integers(0, 10),
)
def test_the_same_side_or_a_word(corners: int, turn: float, bends: list[float], change: str, at: int) -> None:
    section = polygon(corners, 3.0, turn)
    way, points = 0.0, [(0.0, 0.0)]
    for bend in [0.0, *bends]:
        way += bend
        points.append((points[-1][0] + 40 * np.cos(way), points[-1][1] + 40 * np.sin(way)))
    path = chain([(float(x), float(y)) for x, y in points])
    before = body_of(section, path)
    if before is None:
        return
    line, piece = list(section.lines)[at % corners], list(path.lines)[at % len(path.lines)]
    place = middle(section, path, line, piece, backwards=False)
    meant = through(before, place)
    assert len(meant) == 1
    name, hint = meant[0].name, hint_at(before, middle_of(meant[0]))
    section2, path2 = changed(section, path, change, at)
    after = body_of(section2, path2)
    if after is None:
        event("no body")
        return
    try:
        found = face_of(after, name, hint)
    except Lost:
        event(f"lost: {change}")
        # what is drawn still is not lost, but for a piece that runs on straight into what was put before it
        assert change == "section-again" or line not in section2.lines or piece not in path2.lines
        return
    event(f"found: {change}")
    assert found.name in {face.name for face in through(after, middle(section2, path2, line, piece, backwards=False))}


def changed(section: Drawn, path: Drawn, change: str, at: int) -> tuple[Drawn, Drawn]:
    points, lines = dict(path.points), dict(path.lines)
    if change == "section-moved":
        moved = dict(section.points)
        first = list(moved)[at % len(moved)]
        moved[first] = (moved[first][0] * 1.2, moved[first][1] * 1.1)
        return Drawn(moved, section.lines), path
    if change == "section-corner":
        # a corner pulled out of one line: it keeps its first half, the other half is new
        cut = list(section.lines)[at % len(section.lines)]
        a, b = section.lines[cut]
        half = section.middle(cut) * 1.3
        pieces: dict[str, tuple[str, str]] = {}
        for known, ends in section.lines.items():
            pieces[known] = ends if known != cut else (a, "p90")
            if known == cut:
                pieces["c90"] = ("p90", b)
        ordered: dict[str, tuple[float, float]] = {}
        for known, (x, y) in section.points.items():
            ordered[known] = (x, y)
            if known == a:
                ordered["p90"] = (float(half[0]), float(half[1]))
        return Drawn(ordered, pieces), path
    if change == "section-again":
        return polygon(len(section.lines), 3.0, 0.3, first=50), path
    if change == "path-corner":
        last = list(points)[-1]
        x, y = points[last]
        points["p80"] = (x + 15.0, y + 30.0)
        lines["c80"] = (last, "p80")
    elif change == "path-before":
        points = {"p70": (-30.0, -20.0), **points}
        lines = {"c70": ("p70", "p1"), **lines}
    elif change == "path-moved":
        last = list(points)[-1]
        points[last] = (points[last][0] + 6.0, points[last][1] - 5.0)
    elif change == "scaled":
        return (
            Drawn({k: (10 * x, 10 * y) for k, (x, y) in section.points.items()}, section.lines),
            Drawn({k: (10 * x, 10 * y) for k, (x, y) in points.items()}, lines),
        )
    return section, Drawn(points, lines)


def swept(*points: tuple[float, float, float]) -> Body:
    result = built(along(BAR, line(*points, sharp=True)))["sweep-4"].result
    assert isinstance(result, Body)
    return result


def test_pieces_of_a_rail_through_points_are_never_taken_for_each_other() -> None:
    """They have no names of their own: with a corner more, in front or behind, they are said to be lost; moved, they are the same."""
    way = [(0.0, 0.0, 0.0), (40.0, 0.0, 0.0), (40.0, 50.0, 0.0), (90.0, 50.0, 0.0)]
    before = swept(*way)
    meant = [face for face in before.faces if face.surface is not None and "right" in face.name]
    assert len(meant) == 3
    for face in meant:
        hint = hint_at(before, middle_of(face))
        for more in (swept((-30.0, -20.0, 0.0), *way), swept(*way, (90.0, 80.0, 0.0))):
            with pytest.raises(Lost) as lost:
                face_of(more, face.name, hint)
            assert lost.value.candidates
        moved = face_of(swept(*way[:3], (100.0, 52.0, 0.0)), face.name, hint)
        assert moved.name == face.name
