"""Edges made round and cut off by the kernel: looked at before, checked after, and told by name where they can't be."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache, partial

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepFilletAPI import BRepFilletAPI_LocalOperation, BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.collections import Array1_gp_Pnt2d
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.gp import gp_Pnt2d
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Edge, TopoDS_Shape

from wander.core.bodies.blend_runs import BlendRun, blend_run
from wander.core.bodies.blending import NO_ROOM, Among, Blend, Fades, NotBlended, NothingMeant
from wander.core.bodies.body import Body
from wander.core.document.derived_names import blend_name, corner_name, face_in
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.edges import Edge
from wander.core.solids.assemble import faces_of, shells_of
from wander.core.solids.edges import Between, between, named_edges
from wander.core.solids.errors import KERNEL_RAISES, KernelError
from wander.core.solids.named import NamedShape, compound, shape_of, solids_of
from wander.core.solids.origins import Origins
from wander.core.solids.parting import parted
from wander.core.solids.readback import Origin, body_from

SMOOTH = np.radians(0.5)
"""Faces that meet at less than this have no edge to speak of."""
FADING = np.radians(2.0)
"""The kernel goes astray, or never ends, at an edge whose faces come so near to lying in one."""
TABLE = 25
"""Places at which a size that varies is told for each edge."""
TRIES, PATIENCE = 8, 1.5
"""How often a smaller size is tried to say what goes, and for how many seconds at most."""
FINE = (1e-2, 1e-4, 1e-6, 1e-6, 1e-6, 1e-3)
"""How closely the kernel is to keep to what it makes first; where edges come from bodies that were joined it may have to take its own measure."""


@dataclass(frozen=True)
class _Asked:
    """An edge to be blended, by name and as the kernel has it; number: of the blend that asks for it."""

    name: str
    meets: Between
    number: int


def filleted(body: Body, blends: Sequence[Blend], maker: str) -> Body:
    """Edges rounded. Raises NotBlended, NothingMeant, KernelError."""
    known = {edge.name: edge for edge in body.edges}
    runs = cache(lambda name: blend_run(body, known[name], DEFAULT))
    return _blended(body, blends, maker, partial(_fillet, runs=runs), lambda turn, size: size * size * (np.tan(turn / 2) - turn / 2))


def chamfered(body: Body, blends: Sequence[Blend], maker: str) -> Body:
    """Edges cut off. Raises NotBlended, NothingMeant, KernelError."""
    return _blended(body, blends, maker, _chamfer, lambda turn, size: size * size * np.sin(turn) / 2)


Make = Callable[[NamedShape, Sequence[_Asked], Sequence[Blend], float, bool], BRepFilletAPI_LocalOperation]
"""The kernel's operation on edges, all sizes times a factor, as finely as is asked or by its own measure. Raises what the kernel does."""


def _blended(body: Body, blends: Sequence[Blend], maker: str, make: Make, area: Callable[[np.ndarray, np.ndarray], np.ndarray]) -> Body:
    refused: KernelError | None = None
    for item in _as_they_are_and_parted(shape_of(body)):
        asked = list(_asked(item, blends))
        made = _built(make, item, asked, blends)
        if made is None:
            continue
        try:
            shape = compound(list(solids_of(made.Shape())) if body.closed else shells_of(made.Shape()))
            found = body_from(shape, _origins(made, shape, item, maker), {}, body.along)
            _refuse_impossible(body, found, made, asked, blends, area)
        except KernelError as error:
            refused = error
        else:
            return found
    raise refused or _why_not(make, item, asked, blends)


def _as_they_are_and_parted(item: NamedShape) -> Iterator[NamedShape]:
    """The faces as they are keep their names; only where that does not go are they parted, if there is something to part."""
    yield item
    other = parted(item)
    if other is not item:
        yield other


def _asked(item: NamedShape, blends: Sequence[Blend]) -> Iterator[_Asked]:
    """Every edge that is meant, once, of the first blend that means it. Raises NothingMeant, Fades."""
    shapes = list(faces_of(item.shape))
    known = [(edge, between(beside, shapes, item.names)) for edge, beside in named_edges(item) if beside.faces[0] != beside.faces[1]]
    taken: dict[str, int] = {}
    for number, blend in enumerate(blends):
        meant = [(edge, meets) for edge, meets in known if edge.name in blend.edges or _is(blend.among, edge, meets)]
        if not meant:
            raise NothingMeant(number)
        for edge, meets in meant:
            # an edge that was parted for the kernel's sake comes several times
            if taken.setdefault(edge.name, number) != number:
                continue
            flattest = int(np.abs(meets.turns).argmin())
            if abs(meets.turns[flattest]) < FADING:
                raise Fades("the faces beside it come to lie in one there", edge.name, meets.points[flattest], number)
            yield _Asked(edge.name, meets, number)


def _is(among: Among | None, edge: Edge, meets: Between) -> bool:
    if among is None or np.abs(meets.turns).max() < SMOOTH:
        return False
    if among == "meeting":
        return _maker(edge.left) != _maker(edge.right)
    return bool((meets.turns > 0).all() if among == "outer" else (meets.turns < 0).all())


def _maker(face: str) -> str:
    """The step that made a face, and the copy of what it made: of the inside of a wall that of the face outside."""
    while (within := face_in(face)) is not None:
        face = within[1]
    return face.partition("/")[0] + "".join(f"@{copy}" for copy in face.split("@")[1:])


def _built(
    make: Make, item: NamedShape, asked: Sequence[_Asked], blends: Sequence[Blend], factor: float = 1.0
) -> BRepFilletAPI_LocalOperation | None:
    for fine in (True, False):
        try:
            made = make(item, asked, blends, factor, fine)
            made.Build()
            if made.IsDone() and BRepCheck_Analyzer(made.Shape()).IsValid():
                return made
        except KERNEL_RAISES:
            continue
    return None


def _fillet(
    item: NamedShape, asked: Sequence[_Asked], blends: Sequence[Blend], factor: float, fine: bool, *, runs: Callable[[str], BlendRun]
) -> BRepFilletAPI_MakeFillet:
    """runs: along the edge of a name."""
    made = BRepFilletAPI_MakeFillet(item.shape)
    if fine:
        made.SetParams(*FINE)
    for one in asked:
        if made.Contour(one.meets.edge):
            continue  # it goes on smoothly from one that is there
        blend = blends[one.number]
        if blend.size.is_constant:
            made.Add(factor * blend.largest, one.meets.edge)
            continue
        made.Add(one.meets.edge)
        number = made.NbContours()
        # a run begins where the first of its edges does that was picked
        names = [other.name for other in asked if other.number == one.number and made.Contour(other.meets.edge) == number]
        picked = next((name for name in blend.edges if name in names), one.name)
        _vary(made, number, runs(picked), blend, factor)
    return made


def _vary(made: BRepFilletAPI_MakeFillet, number: int, run: BlendRun, blend: Blend, factor: float) -> None:
    """The size along a run of edges, over its whole length. number: of the run as the kernel counts them, which may go along it either way."""
    for k in range(1, made.NbEdges(number) + 1):
        table = Array1_gp_Pnt2d(1, TABLE)
        for place, size in enumerate(factor * blend.size(run.shares(_along(made.Edge(number, k)))), start=1):
            table.SetValue(place, gp_Pnt2d((place - 1) / (TABLE - 1), float(size)))
        made.SetRadius(table, number, k)


def _along(edge: TopoDS_Edge) -> np.ndarray:
    """Places (TABLE, 3) on an edge of a run, all as far apart, in the direction in which the kernel goes along it."""
    curve = BRepAdaptor_Curve(edge)
    whole = GCPnts_AbscissaPoint.Length_s(curve)
    first = curve.FirstParameter()
    at = [GCPnts_AbscissaPoint(curve, whole * k / (TABLE - 1), first).Parameter() for k in range(TABLE)]
    found = np.array([curve.Value(t).Coord() for t in at])
    return found[::-1] if edge.Orientation() == TopAbs_REVERSED else found


def _chamfer(item: NamedShape, asked: Sequence[_Asked], blends: Sequence[Blend], factor: float, fine: bool) -> BRepFilletAPI_MakeChamfer:
    made = BRepFilletAPI_MakeChamfer(item.shape)
    for one in asked:
        if made.Contour(one.meets.edge):
            continue
        blend = blends[one.number]
        size = factor * blend.largest
        face = one.meets.faces[1 if one.meets.names[1] in blend.faces else 0]
        if blend.other is not None:
            made.Add(size, factor * blend.other, one.meets.edge, face)
        elif blend.angle is not None:
            made.AddDA(size, blend.angle, one.meets.edge, face)
        else:
            made.Add(size, one.meets.edge)
    return made


def _why_not(make: Make, item: NamedShape, asked: Sequence[_Asked], blends: Sequence[Blend]) -> NotBlended:
    """Which edge it is that can't be had, and what would go there."""
    until = time.monotonic() + PATIENCE
    tried = 0
    at_fault = None
    while at_fault is None and tried < len(asked) and time.monotonic() < until:
        at_fault = asked[tried] if _built(make, item, [asked[tried]], blends) is None else None
        tried += 1
    if at_fault is None:
        one = asked[0]
        fits = _largest(lambda factor: _built(make, item, asked, blends, factor) is not None, until)
        alone = "each of these edges goes by itself, but " if tried == len(asked) else ""
        why = f"{alone}not all of them go together"
    else:
        one = at_fault
        fits = _largest(lambda factor: _built(make, item, [one], blends, factor) is not None, until)
        why = NO_ROOM
    middle = one.meets.points[len(one.meets.points) // 2]
    return NotBlended(why, one.name, middle, one.number, None if fits is None else fits * blends[one.number].largest)


def _largest(goes: Callable[[float], bool], until: float) -> float | None:
    """The largest factor below 1 that was found to go, by halves."""
    low, high = 0.0, 1.0
    for _ in range(TRIES):
        if time.monotonic() > until:
            break
        middle = (low + high) / 2
        low, high = (middle, high) if goes(middle) else (low, middle)
    return low or None


def _origins(made: BRepFilletAPI_LocalOperation, shape: TopoDS_Shape, item: NamedShape, maker: str) -> list[Origin]:
    """Where every face of the result comes from: one that was there, the edge that it rounds, or a corner where several of those meet."""
    found = Origins(shape)
    known = {face.name: face for face in item.faces}
    for face, name in zip(faces_of(item.shape), item.names, strict=True):
        found.kept(list(made.Modified(face)) or [face], name, known[name])
    for edge, beside in named_edges(item):
        found.made(made.Generated(beside.edge), blend_name(maker, edge.name))
    return found.all(corner_name(maker))


def _refuse_impossible(
    before: Body,
    after: Body,
    made: BRepFilletAPI_LocalOperation,
    asked: Sequence[_Asked],
    blends: Sequence[Blend],
    area: Callable[[np.ndarray, np.ndarray], np.ndarray],
) -> None:
    """A volume that these edges can't come to: one by itself changes it by the area of its corner times its length. Of a sheet, the area."""
    if after.measures.pieces != before.measures.pieces:
        raise KernelError("the body would fall into pieces")
    if not before.closed:
        _refuse_impossible_sheet(before, after, asked, blends)
        return
    taken, added = np.zeros(2), np.zeros(2)
    for one in asked:
        out = one.meets.turns > 0
        for k, size in enumerate(_bounds(blends[one.number])):
            change = area(np.minimum(np.abs(one.meets.turns), np.radians(170.0)), np.full(len(out), size)) * one.meets.steps
            taken[k] += float(change[out].sum())
            added[k] += float(change[~out].sum())
    changed = after.measures.volume - before.measures.volume
    # half as much or twice as much where faces curve or corners share it, and runs may go on past the edges that were named
    runs = sum(made.Length(i) for i in range(1, made.NbContours() + 1)) / max(sum(float(one.meets.steps.sum()) for one in asked), 1e-9)
    most = 2.0 * max(1.0, runs)
    edge = 1e-6 * before.measures.volume
    low = -most * taken[1] if taken[1] else 0.5 * added[0]
    high = most * added[1] if added[1] else -0.5 * taken[0]
    if not low - edge <= changed <= high + edge:
        raise KernelError(f"the kernel changed the volume by {changed:.4g} mm3, which rounding these edges can't come to")


def _refuse_impossible_sheet(before: Body, after: Body, asked: Sequence[_Asked], blends: Sequence[Blend]) -> None:
    """An area that these edges can't come to: beside each one both faces lose what a cut across them leaves out, and some of it comes back."""
    lost = 0.0
    for one in asked:
        half = np.tan(np.minimum(np.abs(one.meets.turns), np.radians(170.0)) / 2)
        lost += float((2 * _bounds(blends[one.number])[1] * half * one.meets.steps).sum())
    changed = after.measures.area - before.measures.area
    edge = 1e-6 * before.measures.area
    if not -2 * lost - edge <= changed <= edge:
        raise KernelError(f"the kernel changed the area by {changed:.4g} mm2, which rounding these edges can't come to")


def _bounds(blend: Blend) -> tuple[float, float]:
    """The least and the largest size of a blend on either face, mm."""
    sizes = blend.size(np.linspace(0.0, 1.0, 65))
    low, high = float(sizes.min()), float(sizes.max())
    other = blend.other if blend.other is not None else high * float(np.tan(blend.angle)) if blend.angle is not None else high
    return min(low, other), max(high, other)
