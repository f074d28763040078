"""Loft: a skin through sections.

Source: The NURBS Book, section 10.3 (skinning). Along the body either what `fairing` finds, or one natural cubic: a batten let go at both ends.
"""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import Enum
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace, change_of_basis
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.shaping.alignment import travel
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.end_rows import bent_alike, end_rows, fine_enough
from wander.core.shaping.ends import FREE, EndKind, EndShape
from wander.core.shaping.guiding import Strip, guided, kinks
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
from wander.core.shaping.loft_report import LoftReport, folds_of, needless_wring, wring_between
from wander.core.shaping.loft_shell import loft_shell
from wander.core.shaping.matched import CutsLead, Matched, matched
from wander.core.shaping.naming import counted, side_name
from wander.core.shaping.panels import Panel, end_to_end, extents_of
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace, Shell
from wander.core.shaping.skin import Skin
from wander.core.shaping.taking_along import Led
from wander.core.shaping.ties import ties_of


class Between(Enum):
    """How the skin goes from station to station."""

    SMOOTH = "smooth"
    STRAIGHT = "straight"


@dataclass(frozen=True)
class Plain:
    """The skin before any law acts on it: what sections are cut from.

    axis: unit direction in which the length is counted (3,). names: of the sections, as they follow each other; those of a ring with the first once
    more at its end. places: their parameters (k,). faces: as its line runs straight up, where it has one. followers: which of the sections were cut.
    open: it goes through open ones. lines: how a fair one goes through the sections that lead. led: what rails did to it.
    """

    axis: Floats
    names: tuple[str, ...]
    places: Floats
    faces: tuple[NamedFace, ...]
    followers: tuple[bool, ...]
    open: bool = False
    line: CentreLine | None = None
    lines: Lines | None = None
    led: Led | None = None


@dataclass(frozen=True)
class Lofted:
    shell: Shell
    report: LoftReport
    plain: Plain


@dataclass(frozen=True)
class Inside:
    """The body that a hole goes through: it takes its places along the body from it, and turns and grows about the same centres.

    sections: of the body, on the same stations as those of the hole. places: their parameters along it (k,). lines: those of a fair one. led: what
    its rails did to it, which takes the hole along.
    """

    sections: Sequence[PlacedSection]
    places: Floats
    lines: Lines | None = None
    led: Led | None = None


def loft(
    sections: Sequence[PlacedSection],
    names: Sequence[str],
    *,
    name: str,
    between: Between = Between.SMOOTH,
    skin: Skin = Skin.CALM,
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
    """The skin through sections (k >= 2), the first and last of which may be points: closed, or, through open ones, a sheet.

    names: ids of the sections, by which sides and ends are called; name: of the body, the first part of every face name. skin: of what is smooth
    between sections; slack: for each section how much of its own swelling a fair skin may keep in the bay that begins there, 0 to 1. creases: numbers
    of sections at which a smooth skin bends anew. ties: what belongs together whatever the shapes say, by section, as parameters of the outlines as
    drawn; where nothing is said for a section, it passes in proportion. rails: a smooth skin is drawn onto them between the sections, which they
    meet; whole: they carry the whole sections between along. line: the sections swing along it, and laws act along it too; no end goes on from
    another body then. Where it is closed the last section is followed by the first again, and rails close too. ends: of a smooth skin; a straight
    one is straight to its ends. inside: the body in which this is the skin of a hole. Raises BadInput when the sections can't carry a body: fewer
    than two, a point between others, no distance between them.
    """
    wish = _Wish(name, between, skin, creases, ends, laws, tolerances, ties, rails, whole)
    ring = line is not None and line.closed
    if ring:
        sections, names = [*sections, sections[0]], [*names, names[0]]
        slack = None if slack is None else [*slack, 0.0]
    drawn = sections
    if line is not None:
        sections = line.straightened(drawn)
        if inside is not None:
            inside = replace(inside, sections=line.straightened([*inside.sections, inside.sections[0]] if ring else inside.sections))
    _check(sections)
    while True:
        try:
            return _made(drawn, sections, names, slack, line, inside, wish)
        except CutsLead as freed:
            sections = [replace(s, share=None) if i in freed.numbers else s for i, s in enumerate(sections)]


@dataclass(frozen=True)
class _Wish:
    """What is asked of a loft, as `loft` has it."""

    name: str
    between: Between
    skin: Skin
    creases: Container[int]
    ends: tuple[EndShape, EndShape]
    laws: Laws | None
    tolerances: Tolerances
    ties: Sequence[Mapping[int, float]]
    rails: Sequence[Curve]
    whole: bool

    @property
    def straight(self) -> bool:
        return self.between is Between.STRAIGHT

    @property
    def fair(self) -> bool:
        """Its lines stay between the sections."""
        return not self.straight and self.skin is not Skin.BATTEN


@dataclass(frozen=True)
class _Row:
    """Matched sections in their places along the body.

    v: their parameters (k,). leads: numbers of those that say how the skin goes. bounds: of those at which faces end. around: places round them,
    (k, m, 3).
    """

    matched: Matched
    v: Floats
    leads: tuple[int, ...]
    bounds: tuple[int, ...]
    around: Floats

    @property
    def placed(self) -> tuple[PlacedSection, ...]:
        return self.matched.placed


def _made(
    drawn: Sequence[PlacedSection],
    sections: Sequence[PlacedSection],
    names: Sequence[str],
    slack: Sequence[float] | None,
    line: CentreLine | None,
    inside: Inside | None,
    wish: _Wish,
) -> Lofted:
    """drawn: the sections where they stand; sections: where they would by a straight line. Raises CutsLead."""
    ring = line is not None and line.closed
    found = matched(
        sections,
        ties=wish.ties,
        rails=wish.rails,
        creases=wish.creases,
        straight=wish.straight,
        line=line,
        drawn=drawn,
        tolerances=wish.tolerances,
    )
    strips = list(found.strips)
    if any(end.onto is not None for end in wish.ends) and not wish.straight:
        strips = [_raised(strip, fine_enough(strip.space)) for strip in strips]
    row = _row(found, strips, line, inside, wish)
    labels = _all_labels(row, names, inside, wish)
    if wish.straight:
        faces, lines, led = straight_faces(strips, row.v, labels, [f"^{n}" for n in names]), None, None
    else:
        faces, strips, lines, led = _smooth(row, strips, labels[0], slack, inside, wish, line)
        faces = _parted(faces, row, labels, names)
        if found.guides or len(row.bounds) > 2:
            faces = _meeting(faces, [strip.rows for strip in strips], row.bounds)
    followers = tuple(s.share is not None for s in row.placed)
    axis = _axis(row.placed if line is None else drawn)
    plain = Plain(axis, tuple(names), row.v, tuple(faces), followers, found.open, line, lines if wish.fair else None, led)
    faces, rows, miss = _lawed(faces, row, strips, inside, wish)
    twisted = row.around if rows[0] is strips[0].rows else round_about(_with_rows(strips, rows))
    if line is not None:
        faces, off = line.bent(faces, wish.tolerances)
        rows, miss = end_to_end([line.back(own) for own in rows], open_=found.open), max(miss, off)
        faces = jointed(_meeting(faces, rows, row.bounds), line.bends)
        if ring and not wish.straight and 0 not in wish.creases:
            faces = closed_smoothly(faces, len(faces) // len(strips), bends=line.goes_on)
    if led is not None:
        # a skin that bends is two faces: what goes on smoothly is one
        faces = jointed(faces, led.kinks)
    faces = sewn(faces, len(strips), open_=found.open)
    outlines = _with_rows(strips, rows)
    ringed = [i for i, s in enumerate(row.placed) if not s.is_point]
    own = slice(0, -1) if ring else slice(None)
    report = LoftReport(
        starts=tuple(found.chosen[own]),
        turned=found.turned[own],
        wring=wring_between(twisted, ringed, row.placed),
        deviation=np.max([strip.deviation for strip in strips], axis=0)[own],
        exact=all(strip.exact for strip in strips),
        law_deviation=miss,
        folds=folds_of(faces),
        needless=needless_wring(found),
        ties=ties_of(found.tied, found.girths, found.leading, strips, faces) if found.tied else (),
    )
    return Lofted(loft_shell(faces, outlines, found, drawn, names, ringed, wish.name, ring=ring), report, plain)


def _row(found: Matched, strips: Sequence[Panel], line: CentreLine | None, inside: Inside | None, wish: _Wish) -> _Row:
    placed = found.placed
    around = round_about(strips)
    leads = [i for i, s in enumerate(placed) if s.share is None]
    if line is not None:
        v = line.places
    elif inside is not None:
        v = inside.places
    else:
        v = parameters(chords(around, placed, leads, fair=wish.fair), placed, leads)
    inner = [i for i in range(1, len(placed) - 1) if wish.straight or i in wish.creases]
    return _Row(found, v, tuple(leads), (0, *inner, len(placed) - 1), around)


def _all_labels(row: _Row, names: Sequence[str], inside: Inside | None, wish: _Wish) -> list[list[str]]:
    """What the strips are called, bay by bay. The only one, where there are no corners, is called the side, or by the hole."""
    found = row.matched
    own = [names[i] for i in found.leading]
    whole = "side" if inside is None else side_name(own, [girth.loop.label for girth in found.girths.each])
    bays = [list(range(first, last + 1)) for first, last in pairwise(row.bounds)]
    return [_labels(found.led, names, found.leading, bay, wish.name, whole) for bay in bays]


def _smooth(
    row: _Row,
    strips: list[Panel],
    labels: Sequence[str],
    slack: Sequence[float] | None,
    inside: Inside | None,
    wish: _Wish,
    line: CentreLine | None,
) -> tuple[list[NamedFace], list[Panel], Lines, Led | None]:
    """Faces from end to end, one for each strip, the strips in the spaces that these have across, how lines go, and what rails did.

    Raises CutsLead where the skin misses sections that were cut from it.
    """
    placed, v = row.placed, row.v
    ring = line is not None and line.closed and 0 not in wish.creases
    held = end_rows(strips, placed, v, wish.ends)
    through = list(row.leads) if wish.fair else list(range(len(placed)))
    lines = None if inside is None else inside.lines
    if lines is None or lines.rows.shape[1] != len(through):
        centers = np.stack([(placed if inside is None else inside.sections)[i].center for i in through])
        slacks = None if slack is None else np.array(slack)[through[:-1]]
        creases = [through.index(i) for i in row.bounds[1:-1]]
        curved = any(end.kind is EndKind.CURVATURE for end in wish.ends)
        lines = skin_lines(strips, row.around[through], centers, v[through], held, slacks, creases, wish.skin, bent=curved, ring=ring)
    faces = smooth_faces(strips, labels, through, lines, held)
    faces = [replace(face, surface=surface) for face, surface in zip(faces, bent_alike(faces, lines, wish.ends, open_=row.matched.open), strict=True)]
    if away := missed_cuts(faces, strips, v, [i for i in range(len(placed)) if i not in through]):
        raise CutsLead(away)
    if row.matched.guides:
        sides = [Strip(face.surface, extent, face.closed_u) for face, extent in zip(faces, extents_of(strips), strict=True)]
        passed = row.matched.guides
        led_on = guided(sides, passed, v, placed, line=line, whole=wish.whole, open_=row.matched.open, tolerances=wish.tolerances)
        strips = [_raised(strip, surface.u) for strip, surface in zip(strips, led_on, strict=True)]
        led = Led(tuple(face.surface for face in faces), tuple(led_on), tuple(kinks(passed, v, placed, line)))
        return [replace(face, surface=surface) for face, surface in zip(faces, led_on, strict=True)], strips, lines, led
    if inside is not None and inside.led is not None:
        return inside.led.taken_along(faces, wish.tolerances), strips, lines, inside.led
    return faces, strips, lines, None


def _parted(faces: list[NamedFace], row: _Row, labels: Sequence[Sequence[str]], names: Sequence[str]) -> list[NamedFace]:
    """Smooth faces in the parts that end at creases."""
    bent = row.bounds[1:-1]
    if not bent:
        return faces
    return parted(faces, row.v[list(bent)].tolist(), [[f"{label}^{names[i]}" for label in own] for own, i in zip(labels, row.bounds, strict=False)])


def _lawed(
    faces: list[NamedFace], row: _Row, strips: Sequence[Panel], inside: Inside | None, wish: _Wish
) -> tuple[list[NamedFace], list[Floats], float]:
    """Faces and rows of the sections as the laws have them, and how far that is missed, mm."""
    rows = [strip.rows for strip in strips]
    laws = wish.laws
    if laws is None or laws.idle:
        return faces, rows, 0.0
    bones = _skeleton(row.placed if inside is None else inside.sections, row.v, wish.between, _axis(row.placed), laws)
    faces, miss = lawed(faces, laws, bones, wish.tolerances)
    rows = end_to_end([moved(laws, bones, row.v, own) for own in rows], open_=row.matched.open)
    return _meeting(faces, rows, row.bounds), rows, miss


def _with_rows(strips: Sequence[Panel], rows: Sequence[Floats]) -> list[Panel]:
    return [replace(strip, rows=own) for strip, own in zip(strips, rows, strict=True)]


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
