"""What is the same on every copy in a body: edges and faces that lie where the motion from one copy to another puts them."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.bodies.body import Body, Copy, Face
from wander.core.bodies.references import middle_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.motions import Motion, after, back
from wander.core.geometry.quadrature import length
from wander.core.shaping.edges import Edge

_SUFFIX = re.compile(r"(?:@[a-z]+(?:-[a-z]+)*-\d+(?:\.\d+)?)+")
_COUNT = re.compile(r"[~#=][^|&]*")
"""In a name: what tells several parts or edges apart."""
AT_ITS_PLACE = 0.01
"""An edge or face lies where a motion puts it when it is no further off than this, mm: what the kernel made again may differ by 5e-4."""
ALONG_IT = 8
HERE = Motion(np.eye(3), np.zeros(3))


@dataclass(frozen=True)
class Alike:
    """found: names of what is the same on other copies. without: how many copies lack it.

    places: the copies, with the motions from the one that it was asked of to each of them: this one first, then those on which it was found.
    """

    found: tuple[str, ...] = ()
    without: int = 0
    places: tuple[Copy, ...] = ()


def edges_alike(body: Body, edge: Edge) -> Alike:
    """The edges that are on other copies what this one is on its own."""
    return _alike(body, edge.name, [other.name for other in body.edges], _where(body, edge))


def run_alike(body: Body, edge: Edge, run: Sequence[Edge]) -> Alike:
    """The copies on which all of a run lies as it does where one of its edges was picked: what is made along it is the same there.

    found: of all edges of the run.
    """
    alike, lies = edges_alike(body, edge), [_where(body, each) for each in run]
    found, places = [], [alike.places[0]]
    for place in alike.places[1:]:
        names = [at(place.motion) for at in lies]
        if all(names):
            places.append(place)
            found += [name for each in names for name in each]
    return Alike(tuple(found), alike.without + len(alike.places) - len(places), tuple(places))


def _where(body: Body, edge: Edge) -> Callable[[Motion], list[str]]:
    """What gives the names of the edges of a body that lie where a motion puts one of them."""
    edges, points, size = body.edges, edge.curve.sampled(ALONG_IT)[1], length(edge.curve)
    low, high = (np.array([f(each.curve.points, axis=0) for each in edges]) for f in (np.min, np.max))

    def at(motion: Motion) -> list[str]:
        meant = points @ motion.matrix.T + motion.origin
        near = np.all((low < meant.min(axis=0) + AT_ITS_PLACE) & (high > meant.max(axis=0) - AT_ITS_PLACE), axis=1)
        return [edges[k].name for k in np.flatnonzero(near) if _lies_along(edges[k].curve, meant, size)]

    return at


def faces_alike(body: Body, face: Face) -> Alike:
    """The faces that are on other copies what this one is on its own."""
    middle, names = middle_of(face), [other.name for other in body.faces]
    middles = np.array([middle_of(other) for other in body.faces])

    def at(motion: Motion) -> list[str]:
        off = np.linalg.norm(middles - (motion.matrix @ middle + motion.origin), axis=1)
        return [names[k] for k in np.flatnonzero(off < AT_ITS_PLACE)]

    return _alike(body, face.name, names, at)


def faces_called_alike(body: Body, names: Sequence[str]) -> tuple[str, ...]:
    """The names of faces, and those that differ from them only in which copy they are on."""
    meant = {_original(name) for name in names}
    return tuple(dict.fromkeys([*names, *(face.name for face in body.faces if _original(face.name) in meant)]))


def kept_on(body: Body, made_of: Sequence[Body]) -> Body:
    """The body with the copies of those that it was made of, as far as there is something left of them; as it is where it knows its own."""
    known = {copy.suffix: copy for each in made_of for copy in each.copies}
    if body.copies or not known or body.rough is not None:
        return body
    return replace(body, copies=present(replace(body, copies=tuple(known.values()))))


def present(body: Body) -> tuple[Copy, ...]:
    """The copies in a body that are still to be found in the names of its faces."""
    found = {suffix for face in body.faces for suffix in _SUFFIX.findall(face.name)} if body.copies else set()
    return tuple(copy for copy in body.copies if copy.suffix in found)


def _alike(body: Body, name: str, names: Sequence[str], at: Callable[[Motion], list[str]]) -> Alike:
    """By place: what lies where the motion puts it. Where the copies meet something that is not alike all round, by the name, if one alone has it."""
    motions = {copy.suffix: copy.motion for copy in present(body)}
    own = next((suffix for suffix in _SUFFIX.findall(name) if suffix in motions), "")
    faces = {_original(face) for face in name.partition("#")[0].split("|")}
    there, called = defaultdict[str, set[str]](set), defaultdict[str, list[str]](list)
    for face in body.faces:
        for suffix in _copies_of(face.name):
            there[suffix].add(_original(face.name))
    meant = _original(name)
    for other in names:
        if _original(other) == meant:
            for suffix in _copies_of(other):
                called[suffix].append(other)
    # what stands on the same copy tells which other ones are of the same original
    mine = faces & there[own]
    away = back(motions.get(own, HERE))
    found, places, without = [], [Copy(own, HERE)], 0
    for suffix in ("", *motions):
        if suffix == own or not mine & there[suffix]:
            continue
        motion = after(motions.get(suffix, HERE), away)
        lies = at(motion)
        # copies that touch have edges at one place: it is the one on its own copy that is meant
        lies = [other for other in lies if suffix in _copies_of(other)] or lies
        if len(lies) == 1 or (not lies and len(called[suffix]) == 1):
            found.append((lies or called[suffix])[0])
            places.append(Copy(suffix, motion))
        else:
            without += 1
    return Alike(tuple(found), without, tuple(places))


def _copies_of(name: str) -> set[str]:
    """The copies that a face is on, or that meet at an edge; the empty suffix stands for the original."""
    return {next(iter(_SUFFIX.findall(face)), "") for face in name.partition("#")[0].split("|")}


def _original(name: str) -> str:
    """The name without what says on which copy it is, and without what tells parts apart."""
    plain = _COUNT.sub("", _SUFFIX.sub("", name))
    return "|".join(sorted(plain.split("|")))


def _lies_along(curve: Curve, points: Floats, size: float) -> bool:
    """Whether a curve is as long as that, and points (m, 3) lie on it."""
    if abs(length(curve) - size) > AT_ITS_PLACE + 1e-6 * size:
        return False
    return bool(np.linalg.norm(curve(closest_parameters(curve, points)) - points, axis=1).max() < AT_ITS_PLACE)
