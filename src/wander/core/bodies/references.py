"""From a name in a document to the face or edge it means now, or to the word that it is lost: never to another one.

A name says where a thing comes from, so it holds as long as that is there. A side is called by what each of its sections was drawn as: two names mean
one side where they agree on every section that both know. Where only a number told equal things apart (`~2of3`, `#2of3`), the
name alone is not trusted: the hint that was kept with it, a place in the box of the body, has to agree.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body, Face
from wander.core.document.derived_names import edge_in, face_in
from wander.core.document.old_names import OLD_NAME, has_old_names
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.edges import Edge

COUNTED = re.compile(r"[~#]\d+of\d+(@|$)")
"""In a name: the place in a count of things that nothing else tells apart."""
CLEARLY = 0.5
"""A counted thing is the one that was meant where its distance from the hint is at most this share of the next one's."""
MOST_CANDIDATES = 3
_SIDE = re.compile(r"(?P<maker>[a-z]+(?:-[a-z]+)*-\d+)/(?P<said>\d+\.[^~@^#|&=()]*)(?P<rest>.*)")


@dataclass(frozen=True)
class Candidate:
    """Something that may be meant instead. distance: from where the lost thing was, mm; at: a place on it (3,)."""

    name: str
    distance: float
    at: Floats


class Lost(GeometryError):
    """What a reference means is not there any more. candidates: the nearest ones first."""

    def __init__(self, name: str, candidates: Sequence[Candidate]) -> None:
        super().__init__("what it refers to is not on the body any more")
        self.name = name
        self.candidates = tuple(candidates)


Hint = tuple[float, float, float]
"""A place in the box of a body, 0 to 1 along each axis: it moves, turns in quarter turns and grows with the body."""


def face_of(body: Body, name: str, hint: Hint | None) -> Face:
    """The face of that name. Raises Lost."""
    faces = {face.name: face for face in body.faces}
    places = {face.name: middle_of(face) for face in body.faces}
    return faces[_resolved(body, since(body, name), hint, places)]


def edge_of(body: Body, name: str, hint: Hint | None) -> Edge:
    """The edge of that name. Raises Lost."""
    known = {edge.name: edge for edge in body.edges}
    places = {edge.name: _halfway(edge) for edge in body.edges}
    return known[_resolved(body, since(body, name), hint, places)]


def hint_at(body: Body, place: Floats) -> Hint:
    """The hint that is kept with a reference to something at a place (3,)."""
    low, high = body.measures.low, body.measures.high
    x, y, z = ((place - low) / np.maximum(high - low, 1e-9)).tolist()
    return round(x, 6), round(y, 6), round(z, 6)


def place_of(body: Body, name: str) -> Floats:
    """A place on the face or edge of that name, (3,). Raises KeyError where there is none."""
    for face in body.faces:
        if face.name == name:
            return middle_of(face)
    for edge in body.edges:
        if edge.name == name:
            return _halfway(edge)
    raise KeyError(name)


def middle_of(face: Face) -> Floats:
    """A place in the middle of a face, (3,): of its parameters where it is whole, of its outer rim otherwise."""
    if face.rims is None:
        assert face.surface is not None
        u, v = (np.array([np.mean(space.domain)]) for space in (face.surface.u, face.surface.v))
        return face.surface.grid(u, v)[0, 0]
    at = face.rims[0].mean(axis=0)
    if face.frame is not None:
        return face.frame.lift(at)
    assert face.surface is not None
    return face.surface.grid(at[:1], at[1:])[0, 0]


def _halfway(edge: Edge) -> Floats:
    low, high = edge.curve.domain
    return edge.curve((low + high) / 2)


def meant_by(body: Body, hint: Hint) -> Floats:
    """The place (3,) that a hint was kept for, as the body is now."""
    low, high = body.measures.low, body.measures.high
    return np.asarray(low + np.array(hint) * (high - low))


def _resolved(body: Body, name: str, hint: Hint | None, places: dict[str, Floats]) -> str:
    away = {}
    if hint is not None:
        meant = meant_by(body, hint)
        away = {other: float(np.linalg.norm(place - meant)) for other, place in places.items()}
    same = _meant(name, places)
    if same is not None:
        name = same
        if not COUNTED.search(name):
            return name
        like = [other for other in places if COUNTED.sub("", other) == COUNTED.sub("", name)]
        others = [away[other] for other in like if other != name] if away else []
        if others and away[name] <= CLEARLY * min(others):
            return name
    # without a place to go by, the most alike name is as near as one can say
    order = sorted(places, key=lambda other: (away.get(other, 0.0), _unlike(name, other), other))
    raise Lost(name, [Candidate(other, away.get(other, 0.0), places[other]) for other in order[:MOST_CANDIDATES]])


def _meant(name: str, there: Iterable[str]) -> str | None:
    """The one name that means the same: equal, or different only in sections that one of the two does not know."""
    known = list(there)
    if name in known:
        return name
    found = [other for other in known if _agree(name, other)]
    if len(found) != 1 or _says_elsewhere(name, found[0], known):
        return None
    return found[0]


def _agree(a: str, b: str) -> bool:
    pair_a, mark_a, further_a = a.partition("#")
    pair_b, mark_b, further_b = b.partition("#")
    faces_a, faces_b = pair_a.split("|"), pair_b.split("|")
    if len(faces_a) != len(faces_b) or mark_a != mark_b:
        return False
    if mark_a and further_a != further_b and not _said_alike(further_a, further_b):
        return False
    ways = [faces_b, faces_b[::-1]] if len(faces_b) == 2 else [faces_b]
    return any(all(_same_face(x, y) for x, y in zip(faces_a, way, strict=True)) for way in ways)


def _same_face(a: str, b: str) -> bool:
    if a == b:
        return True
    along_a, along_b = edge_in(a), edge_in(b)
    if along_a is not None and along_b is not None:
        return (along_a[0], along_a[2]) == (along_b[0], along_b[2]) and _agree(along_a[1], along_b[1])
    beside_a, beside_b = face_in(a), face_in(b)
    if beside_a is not None and beside_b is not None:
        return (beside_a[0], beside_a[2]) == (beside_b[0], beside_b[2]) and _same_face(beside_a[1], beside_b[1])
    one, other = _SIDE.fullmatch(a), _SIDE.fullmatch(b)
    if one is None or other is None or (one["maker"], one["rest"]) != (other["maker"], other["rest"]):
        return False
    return _said_alike(one["said"], other["said"])


def _said_alike(a: str, b: str) -> bool:
    """Whether two lists of what sections say have a section in common and agree on all that they have."""
    one, other = _items(a), _items(b)
    common = one.keys() & other.keys()
    return bool(common) and all(one[section] == other[section] for section in common)


def _says_elsewhere(meant: str, found: str, known: Iterable[str]) -> bool:
    """Whether a section that is silent at what was found says of another side what it said of the one that was meant: it has gone there."""
    missing = _sayings(meant) - _sayings(found)
    return any(missing & _sayings(other) for other in known if other != found)


def _sayings(name: str) -> set[tuple[str, str, str, str]]:
    """What sections say of the sides in a name: the maker, the section, the curve, and which part of the side."""
    sides = [side for face in name.partition("#")[0].split("|") if (side := _SIDE.fullmatch(face))]
    return {(side["maker"], *item, side["rest"]) for side in sides for item in _items(side["said"]).items()}


def _items(said: str) -> dict[str, str]:
    return dict(item.split(".", 1) for item in said.split("+") if "." in item)


def _unlike(a: str, b: str) -> int:
    return -len(set(re.split(r"[/|.:#^~@]", a)) & set(re.split(r"[/|.:#^~@]", b)))


def since(body: Body, name: str) -> str:
    """The name that is used now for a face or edge that was called by its place in a count; any other name as it is."""
    if not has_old_names(name):
        return name
    pair, _, number = name.partition("#")
    faces = [_face_since(body, face) for face in pair.split("|")]
    if len(faces) == 1:
        return faces[0]
    here = [edge.name for edge in body.edges if sorted((edge.left, edge.right)) == sorted(faces)]
    # with two strips alone, the edge between the end of the first and the second was counted first
    here = here[::-1] if len(here) == 2 else here
    at = int(number or 1) - 1
    return here[at] if at < len(here) else "|".join(sorted(faces))


def _face_since(body: Body, name: str) -> str:
    old = OLD_NAME.fullmatch(name)
    skin = next((s for s in body.skins if old and s.names[0].startswith(f"{old['step']}/")), None)
    if old is None or skin is None:
        return name
    if old["end"]:
        at_end = old["end"] == "end"
        caps = [cap.name for cap in skin.caps]
        return (caps[-1] if at_end else caps[0]) if caps else name
    first = skin.faces[0].name.partition("^")[2]
    bays: list[list[str]] = []
    for face in skin.faces:
        if face.name.partition("^")[2] == first:
            bays.append([])
        bays[-1].append(face.name)
    strip, bay = int(old["strip"]) - 1, int(old["bay"] or 1) - 1
    return bays[strip][bay] if strip < len(bays) and bay < len(bays[strip]) else name
