"""Loft: a skin through sections.

Source: The NURBS Book, section 10.3 (skinning). Along the body either what `fairing` finds, or one natural cubic: a batten let go at both ends.
"""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import Enum
from functools import partial
from itertools import pairwise

import numpy as np

from wander.core.drawing.outlines.loop import RING
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace, change_of_basis
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.alignment import choose_starts, come_round, runs_backwards, travel, wring
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.end_rows import bent_alike, end_rows, fine_enough
from wander.core.shaping.ends import FREE, EndKind, EndShape
from wander.core.shaping.girth import Girth, Girths, girth_of
from wander.core.shaping.guiding import Strip, guided
from wander.core.shaping.laws import Laws, Skeleton, lawed, moved, skeleton
from wander.core.shaping.lengthwise import (
    Lines,
    chords,
    closed_smoothly,
    jointed,
    missed_cuts,
    parameters,
    parted,
    round_about,
    sewn,
    skin_lines,
    smooth_faces,
    straight_faces,
)
from wander.core.shaping.meeting import guides
from wander.core.shaping.naming import counted, side_name
from wander.core.shaping.panels import Panel, extents_of, following_row, follows, panels, side_by_side
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import Cap, NamedFace, Ring, Seam, Shell
from wander.core.shaping.ties import Tie, tied_shares, ties_of
from wander.core.shaping.tube import tube_seams

MANY_BREAKS = 12
WRUNG = 1.0
"""Degrees between neighbours above which a better matching is tried."""
MOST_TRIES = 3
OVER = (1.0, 0.875, 1.25)
"""Shares of the wring by which starts are turned back: near where two ways to match corners are as good, a little more or less decides."""


class Between(Enum):
    """How the skin goes from station to station."""

    SMOOTH = "smooth"
    STRAIGHT = "straight"


class Skin(Enum):
    """How a smooth skin goes through its sections."""

    FAIR = "fair"
    """Bent least among those that don't swell between two sections."""
    BATTEN = "batten"
    """One natural cubic through all sections, which swells where they change fast."""


@dataclass(frozen=True)
class LoftReport:
    """What was done to make the skin, for the designer to see.

    starts: chosen start of each section in its own parameter, None for a point. turned: sections that ran the other way and were
    turned. wring: degrees between neighbours, (k - 1,), zero next to a point; of a ring (k,), the last from the last section to the first.
    deviation: largest distance of the skin from each section, mm (k,). exact: no section was refitted. law_deviation: distance from the exact
    outcome of the laws, mm. folds: places where the skin turns back on itself, (f, 3). needless: degrees of wring, as many, that the shapes don't
    ask for: starts of the designer's own make them.
    """

    starts: tuple[float | None, ...]
    turned: tuple[bool, ...]
    wring: Floats
    deviation: Floats
    exact: bool
    law_deviation: float
    folds: Floats
    needless: Floats
    ties: tuple[Tie, ...] = ()


@dataclass(frozen=True)
class Plain:
    """The skin before any law acts on it: what sections are cut from.

    axis: unit direction in which the length is counted (3,). places: parameters of the sections (k,). followers: which of them were cut. lines: how a
    fair one goes through the sections that lead.
    """

    axis: Floats
    places: Floats
    faces: tuple[NamedFace, ...]
    followers: tuple[bool, ...]
    lines: Lines | None = None


@dataclass(frozen=True)
class Lofted:
    shell: Shell
    report: LoftReport
    plain: Plain


@dataclass(frozen=True)
class Inside:
    """The body that a hole goes through: it takes its places along the body from it, and turns and grows about the same centres.

    sections: of the body, on the same stations as those of the hole. places: their parameters along it (k,). lines: those of a fair one.
    """

    sections: Sequence[PlacedSection]
    places: Floats
    lines: Lines | None = None


def loft(
    sections: Sequence[PlacedSection],
    names: Sequence[str],
    *,
    name: str,
    between: Between = Between.SMOOTH,
    skin: Skin = Skin.FAIR,
    slack: Sequence[float] | None = None,
    creases: Container[int] = (),
    ties: Sequence[Mapping[int, float]] = (),
    rails: Sequence[Curve] = (),
    whole: bool = False,
    line: CentreLine | None = None,
    ends: tuple[EndShape, EndShape] = (FREE, FREE),
    laws: Laws | None = None,
    tolerances: Tolerances = DEFAULT,
    inside: Inside | None = None,
) -> Lofted:
    """The closed skin through sections (k >= 2), the first and last of which may be points.

    names: ids of the sections, by which sides and ends are called; name: of the body, the first part of every face name. skin: of what is smooth
    between sections; slack: for each section how much of its own swelling a fair skin may keep in the bay that begins there, 0 to 1. creases: numbers
    of sections at which a smooth skin bends anew. ties: what belongs together whatever the shapes say, by section, as parameters of the outlines as
    drawn; where nothing is said for a section, it passes in proportion. rails: a smooth skin is drawn onto them between the sections, which they
    meet; whole: they carry the whole sections between along. line: the sections swing along it, and laws act along it too; it goes with no rails, and
    ends don't go on from other bodies. Where it is closed the last section is followed by the first again. ends: of a smooth skin; a straight one is
    straight to its ends. inside: the body in which this is the skin of a hole. Raises BadInput when the sections can't carry a body: fewer than two, a
    point between others, no distance between them.
    """
    ring = line is not None and line.closed
    if ring:
        sections, names = [*sections, sections[0]], [*names, names[0]]
        slack = None if slack is None else [*slack, 0.0]
    drawn = sections
    if line is not None:
        sections = line.straightened(drawn)
        if inside is not None:
            around_it = [*inside.sections, inside.sections[0]] if ring else inside.sections
            inside = replace(inside, sections=line.straightened(around_it))
    _check(sections)
    turned = runs_backwards(sections)
    placed = [_forward(s) if back and s.share is not None else s for s, back in zip(sections, turned, strict=True)]
    again = partial(
        loft,
        names=names,
        name=name,
        between=between,
        skin=skin,
        slack=slack,
        creases=creases,
        ties=ties,
        rails=rails,
        whole=whole,
        ends=ends,
        laws=laws,
        tolerances=tolerances,
        inside=inside,
    )

    def freed(numbers: Container[int]) -> Lofted:
        """The same, where these sections that were cut lead like any other."""
        free = [replace(s, share=None) if i in numbers else s for i, s in enumerate(sections)]
        return again(free)

    leading = [i for i, s in enumerate(placed) if not s.is_point and s.share is None]
    loops = [girth_of(placed[i], turned[i]) for i in leading]
    cut_first = {i for i, s in enumerate(placed) if s.share is not None and (rails or i in creases)}
    if cut_first:
        return freed(range(len(placed)) if rails else cut_first)
    girths = Girths(loops)
    chosen_starts = [_fixed(placed[i].start, loop) for i, loop in zip(leading, loops, strict=True)]
    starts = choose_starts(loops, chosen_starts)
    if ring:
        starts = come_round(loops, starts, chosen_starts)
    found = guides(rails, placed, girths) if rails else []
    pairs = [np.array([guide.meetings[i].share for i in leading]) for guide in found]
    tied = [tied_shares({n: _fixed(tie[i], loops[n]) for n, i in enumerate(leading) if i in tie}, np.array(starts), ring=ring) for tie in ties]
    pairs = [*tied, *pairs]
    if pairs:
        # what belongs together says where outlines begin, unless the designer does
        starts = [float(first) if own is None else start for first, own, start in zip(pairs[0], chosen_starts, starts, strict=True)]
    led = panels(girths, starts, tolerances, straight=between is Between.STRAIGHT, pairs=pairs, ring=ring)
    if not pairs and not ring and len(leading) > 1:
        axis = placed[leading[-1]].center - placed[leading[0]].center
        starts, led = _unwrung(girths, starts, chosen_starts, led, tolerances, straight=between is Between.STRAIGHT, axis=axis)
    following = [s.share is not None and follows(s, led) for s in placed]

    # the skin has other corners by now than when they were cut
    if other := {i for i, s in enumerate(placed) if s.share is not None and not following[i]}:
        return freed(other)
    strips = side_by_side([_all_rows(panel, number, placed, leading) for number, panel in enumerate(led)])
    if any(end.onto is not None for end in ends) and between is Between.SMOOTH:
        strips = [_raised(strip, fine_enough(strip.space)) for strip in strips]
    around = round_about(strips)
    fair = between is Between.SMOOTH and skin is Skin.FAIR
    leads = [i for i, s in enumerate(placed) if s.share is None]
    v = (
        line.places
        if line is not None
        else inside.places
        if inside is not None
        else parameters(chords(around, placed, leads, fair=fair), placed, leads)
    )
    ringed = [i for i, s in enumerate(placed) if not s.is_point]
    travel_axis = _axis(placed)
    bent = [i for i in range(1, len(placed) - 1) if i in creases] if between is Between.SMOOTH else list(range(1, len(placed) - 1))
    bounds = [0, *bent, len(placed) - 1]
    bays = [list(range(first, last + 1)) for first, last in pairwise(bounds)]
    side = "side" if inside is None else side_name([names[i] for i in leading], [loop.loop.label for loop in loops])
    labels = [_labels(led, names, leading, bay, name, side) for bay in bays]
    lines = None
    if between is Between.STRAIGHT:
        faces = straight_faces(strips, v, labels, [f"^{n}" for n in names])
    else:
        held = end_rows(strips, placed, v, ends)
        curved = any(end.kind is EndKind.CURVATURE for end in ends)
        through = leads if fair else list(range(len(placed)))
        lines = None if inside is None else inside.lines
        if lines is None or lines.rows.shape[1] != len(through):
            centers = np.stack([(placed if inside is None else inside.sections)[i].center for i in through])
            slacks = None if slack is None else np.array(slack)[through[:-1]]
            own_bends = [through.index(i) for i in bent]
            smooth_ring = ring and 0 not in creases
            lines = skin_lines(strips, around[through], centers, v[through], held, slacks, own_bends, fair=fair, bent=curved, ring=smooth_ring)
        faces = smooth_faces(strips, labels[0], through, lines, held)
        faces = [replace(face, surface=surface) for face, surface in zip(faces, bent_alike(faces, lines, ends), strict=True)]
        if away := missed_cuts(faces, strips, v, [i for i in range(len(placed)) if i not in through]):
            return freed(away)
        if found:
            sides = [Strip(face.surface, extent, face.closed_u) for face, extent in zip(faces, extents_of(strips), strict=True)]
            led_on = guided(sides, found, v, placed, whole=whole, tolerances=tolerances)
            strips = [_raised(strip, surface.u) for strip, surface in zip(strips, led_on, strict=True)]
            faces = [replace(face, surface=surface) for face, surface in zip(faces, led_on, strict=True)]
        if len(bounds) > 2:
            faces = parted(faces, v[bent].tolist(), [[f"{label}^{names[i]}" for label in own] for own, i in zip(labels, bounds, strict=False)])
        faces = _meeting(faces, [strip.rows for strip in strips], bounds)
    rows, miss = [strip.rows for strip in strips], 0.0
    plain = Plain(travel_axis if line is None else _axis(drawn), v, tuple(faces), tuple(following), lines if fair else None)
    if laws is not None and not laws.idle:
        bones = _skeleton(placed if inside is None else inside.sections, v, between, travel_axis, laws)
        faces, miss = lawed(faces, laws, bones, tolerances)
        rows = _end_to_end([moved(laws, bones, v, row) for row in rows])
        faces = _meeting(faces, rows, bounds)
    twisted = around if rows[0] is strips[0].rows else round_about([replace(strip, rows=row) for strip, row in zip(strips, rows, strict=True)])
    if line is not None:
        faces, off = line.bent(faces, tolerances)
        rows, miss = _end_to_end([line.back(row) for row in rows]), max(miss, off)
        faces = jointed(_meeting(faces, rows, bounds), line.bends)
        if ring and between is Between.SMOOTH and 0 not in creases:
            faces = closed_smoothly(faces, len(faces) // len(strips), bends=line.goes_on)
        plain = replace(plain, faces=tuple(faces))
    faces = sewn(faces, len(strips))
    outlines = [replace(strip, rows=row) for strip, row in zip(strips, rows, strict=True)]
    caps = {} if ring else _caps(outlines, drawn, [f"{name}/end:{names[i]}" for i in (0, -1)])
    shell = Shell(
        tuple(faces),
        tuple(caps.values()),
        _rings(outlines, ringed[:-1] if ring else ringed, names),
        _seams(faces, led, caps, [names[i] for i in leading], ring=ring),
    )
    chosen: list[float | None] = [None] * len(placed)
    for i, at in zip(leading, girths.as_drawn(starts), strict=True):
        chosen[i] = at
    own = slice(0, -1) if ring else slice(None)
    report = LoftReport(
        starts=tuple(chosen[own]),
        turned=tuple(turned[own]),
        wring=_wring(twisted, ringed, placed),
        deviation=np.max([strip.deviation for strip in strips], axis=0)[own],
        exact=all(strip.exact for strip in strips),
        law_deviation=miss,
        folds=_folds(faces),
        needless=_needless(placed, leading, girths, starts),
        ties=ties_of(tied, girths, leading, strips, faces) if tied else (),
    )
    return Lofted(shell, report, plain)


def _check(sections: Sequence[PlacedSection]) -> None:
    if len(sections) < 2:
        raise BadInput(f"a loft needs at least 2 sections, got {len(sections)}")
    if any(s.is_point for s in sections[1:-1]):
        raise BadInput("a point can only be the first or the last section")
    if all(s.is_point or s.share is not None for s in sections):
        raise BadInput("a loft needs at least one section with an outline of its own")
    if abs(float((sections[-1].frame.origin - sections[0].frame.origin) @ _axis(sections))) < 1e-6:
        raise BadInput("the first and the last station stand at the same place along the body, which so has no length")
    if sections[0].share is not None or sections[-1].share is not None:
        raise BadInput("a section that was cut from the body can't stand at its end")


def _fixed(start: float | None, loop: Girth) -> float | None:
    """The share of the girth at which the designer wants a loop to start; start: in the parameter of its outline as drawn."""
    if start is None:
        return None
    return float(loop.shares(np.array([(1.0 - start if loop.turned else start) % 1.0]))[0])


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


def _axis(sections: Sequence[PlacedSection]) -> Floats:
    """Unit direction in which the length is counted: square to the first station, towards the last."""
    normal = sections[0].frame.z
    return normal * (1.0 if float((sections[-1].center - sections[0].center) @ normal) >= 0 else -1.0)


def _skeleton(sections: Sequence[PlacedSection], v: Floats, between: Between, axis: Floats, laws: Laws) -> Skeleton:
    """Sections that follow have no say in it, so that cutting one changes nothing."""
    leads = [i for i, s in enumerate(sections) if s.share is None]
    if between is Between.SMOOTH and len(leads) > 2:
        space, matrix = cubic_system(v[leads], End.NATURAL)
        to_controls = np.asarray(np.linalg.inv(matrix), dtype=np.float64)[:, : len(leads)]
    else:
        space, to_controls = SplineSpace.from_breaks(1, v[leads]), np.eye(len(leads))
    along = travel(np.array([sections[i].center for i in leads]))
    facing = [1.0 if float(sections[i].frame.z @ d) >= 0 else -1.0 for i, d in zip(leads, along, strict=True)]
    return skeleton(
        space,
        to_controls,
        origins=np.stack([sections[i].frame.origin for i in leads]),
        centers=np.stack([sections[i].center for i in leads]),
        across=np.stack([sections[i].frame.x for i in leads]),
        normals=np.stack([f * sections[i].frame.z for i, f in zip(leads, facing, strict=True)]),
        axis=axis,
        laws=laws,
    )


def _raised(panel: Panel, space: SplineSpace) -> Panel:
    """The panel in a larger space."""
    rows = np.tensordot(change_of_basis(panel.space, space), panel.rows, axes=(1, 1)).transpose(1, 0, 2)
    return replace(panel, space=space, rows=rows)


def _end_to_end(rows: Sequence[Floats]) -> list[Floats]:
    """Rows (k, n, 3) of the strips round a body with their ends set to each other's to the last bit: each was worked out, and rounded, by itself."""
    return [np.concatenate([row[:, :-1], following[:, :1]], axis=1) for row, following in zip(rows, [*rows[1:], rows[0]], strict=True)]


def _meeting(faces: Sequence[NamedFace], rows: Sequence[Floats], bounds: Sequence[int]) -> list[NamedFace]:
    """The faces with their ends set to the outlines to the last bit, so that neighbouring faces and caps share their edges.

    bounds: numbers of the sections between which the faces of a strip lie, in turn.
    """
    found = []
    for number, face in enumerate(faces):
        strip, bay = divmod(number, len(bounds) - 1)
        first, last = bounds[bay], bounds[bay + 1]
        points = face.surface.points.copy()
        points[:, 0], points[:, -1] = rows[strip][first], rows[strip][last]
        found.append(replace(face, surface=replace(face.surface, points=points)))
    return found


def _labels(led: Sequence[Panel], names: Sequence[str], leading: Sequence[int], bay: Sequence[int], name: str, whole: str) -> list[str]:
    """What the strips are called in a bay: by the curves of the sections that it goes through. whole: the only one, where there are no corners."""
    if led[0].closed:
        return [f"{name}/{whole}"]
    asked = [k for k, i in enumerate(leading) if i in bay] or list(range(len(leading)))
    told = [side_name([names[leading[k]] for k in asked], [panel.labels[k] for k in asked]) for panel in led]
    return [f"{name}/{label}" for label in counted(told)]


def _seams(faces: Sequence[NamedFace], led: Sequence[Panel], caps: dict[int, Cap], sections: Sequence[str], *, ring: bool) -> tuple[Seam, ...]:
    bays = len(faces) // len(led)
    grid = [list(enumerate(faces))[k * bays : (k + 1) * bays] for k in range(len(led))]
    corners = [side_name(sections, panel.corners) if panel.corners else "" for panel in led]
    start = (len(faces), 0) if 0 in caps else None
    end = (len(faces) + len(caps) - 1, 0) if -1 in caps else None
    return tuple(tube_seams(grid, corners=corners, caps=(start, end), ring=ring))


def _caps(strips: Sequence[Panel], sections: Sequence[PlacedSection], names: Sequence[str]) -> dict[int, Cap]:
    """The flat ends by 0 and -1, where there are any."""
    along = travel(np.array([s.center for s in sections]))
    caps = {}
    for name, index, outward in ((names[0], 0, -1.0), (names[1], -1, 1.0)):
        section = sections[index]
        if section.is_point:
            continue
        frame = section.frame
        if float(frame.z @ along[index]) * outward < 0:
            frame = Frame(frame.origin, frame.y, frame.x)
        caps[index] = Cap(name, frame, tuple(Curve(strip.space, strip.rows[index]) for strip in strips))
    return caps


def _rings(strips: Sequence[Panel], ringed: Sequence[int], names: Sequence[str]) -> tuple[Ring, ...]:
    return tuple(Ring(names[i], tuple(Curve(strip.space, strip.rows[i]) for strip in strips)) for i in ringed)


def _wring(around: Floats, ringed: Sequence[int], sections: Sequence[PlacedSection]) -> Floats:
    found = np.zeros(len(sections) - 1)
    if len(ringed) > 1:
        axis = sections[ringed[-1]].center - sections[ringed[0]].center
        found[ringed[0] : ringed[0] + len(ringed) - 1] = wring(around[ringed], axis)
    return found


def _needless(sections: Sequence[PlacedSection], leading: Sequence[int], girths: Girths, starts: Sequence[float]) -> Floats:
    """Degrees (k - 1,) by which each section is turned against the one before more than the shapes ask for: what starts of the designer's own do."""
    found = np.zeros(len(sections) - 1)
    if all(sections[i].start is None for i in leading) or len(leading) < 2:
        return found
    axis = sections[leading[-1]].center - sections[leading[0]].center
    turned = []
    for chosen in (np.array(starts), np.array(choose_starts(girths.each, [None] * len(leading)))):
        turned.append(wring(girths((chosen[:, None] + np.arange(RING) / RING) % 1.0), axis))
    for bay, (own, least) in enumerate(zip(*turned, strict=True)):
        found[leading[bay + 1] - 1] = abs(own) - abs(least)
    return found


def _folds(faces: Sequence[NamedFace]) -> Floats:
    """Places where du x dv turns against its neighbours round the same face: a skin that folds has both signs."""
    found = []
    for face in faces:
        s = face.surface
        u = np.linspace(*s.u.domain, 25)
        b = s.v.breaks
        # of a few spans both sides of every knot are looked at, of many the middle
        v = (b[:-1, None] + np.diff(b)[:, None] * np.array([0.5] if len(b) > MANY_BREAKS else [0.02, 0.5, 0.98])).ravel()
        normal = cross(s.grid(u, v, 1, 0), s.grid(u, v, 0, 1))
        size = lengths(normal)
        # within one bay neighbours look the same way unless the skin has turned over
        flips = np.einsum("ijk,ijk->ij", normal[:, 1:], normal[:, :-1]) < -0.5 * size[:, 1:] * size[:, :-1]
        if flips.any():
            i, j = np.argwhere(flips)[0]
            found.append(s.grid(u[i : i + 1], v[j : j + 1])[0, 0])
    return np.array(found).reshape(-1, 3)
