"""What is the same on every copy in a body: edges and faces that lie where the motion from one copy to another puts them."""

from __future__ import annotations

import re
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
    """found: names of what is the same on other copies. without: how many copies lack it."""

    found: tuple[str, ...] = ()
    without: int = 0


def edges_alike(body: Body, edge: Edge) -> Alike:
    """The edges that are on other copies what this one is on its own."""
    there = [(other.name, other.curve) for other in body.edges]
    size, points = length(edge.curve), edge.curve.sampled(ALONG_IT)[1]

    def at(motion: Motion) -> list[str]:
        meant = points @ motion.matrix.T + motion.origin
        return [name for name, curve in there if _off(curve, meant) < AT_ITS_PLACE and abs(length(curve) - size) < AT_ITS_PLACE + 1e-6 * size]

    return _alike(body, edge.name, [name for name, _ in there], at)


def faces_alike(body: Body, face: Face) -> Alike:
    """The faces that are on other copies what this one is on its own."""
    middle = middle_of(face)

    def at(motion: Motion) -> list[str]:
        meant = motion.matrix @ middle + motion.origin
        return [other.name for other in body.faces if float(np.linalg.norm(middle_of(other) - meant)) < AT_ITS_PLACE]

    return _alike(body, face.name, [other.name for other in body.faces], at)


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
    there = {suffix: {_original(face.name) for face in body.faces if _on(face.name, suffix)} for suffix in ("", *motions)}
    # what stands on the same copy tells which other ones are of the same original
    mine = faces & there[own]
    away = back(motions.get(own, HERE))
    found, without = [], 0
    for suffix in ("", *motions):
        if suffix == own or not mine & there[suffix]:
            continue
        lies = at(after(motions.get(suffix, HERE), away))
        called = [other for other in names if _on(other, suffix) and _original(other) == _original(name)]
        if len(lies) == 1 or (not lies and len(called) == 1):
            found.append((lies or called)[0])
        else:
            without += 1
    return Alike(tuple(found), without)


def _on(name: str, suffix: str) -> bool:
    """Whether a face or edge lies on the copy: on the original where the suffix is empty."""
    found = _SUFFIX.findall(name)
    return suffix in found if suffix else not found or any("|" in name and not _SUFFIX.search(face) for face in name.split("|"))


def _original(name: str) -> str:
    """The name without what says on which copy it is, and without what tells parts apart."""
    plain = _COUNT.sub("", _SUFFIX.sub("", name))
    return "|".join(sorted(plain.split("|")))


def _off(curve: Curve, points: Floats) -> float:
    """How far points (m, 3) are off a curve at most, mm."""
    low, high = curve.points.min(axis=0) - AT_ITS_PLACE, curve.points.max(axis=0) + AT_ITS_PLACE
    if np.any(points < low) or np.any(points > high):
        return float("inf")
    return float(np.linalg.norm(curve(closest_parameters(curve, points)) - points, axis=1).max())
