"""Wall."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

from wander.core.bodies.body import Body, gathered, of_shells, pieces_of
from wander.core.bodies.combining import CombineFailed
from wander.core.bodies.copies import faces_alike
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.thickness import Thickness, measured, of_all
from wander.core.checks.combining import not_on_all_copies
from wander.core.checks.surfaces import not_thickened
from wander.core.checks.walls import no_room_at_point, no_thickness, not_walled, only_from_own_skin, sheet_has_no_faces, wall_too_thick, wall_uneven
from wander.core.document.findings import Finding
from wander.core.geometry.errors import GeometryError
from wander.core.results.bodies import body_summary
from wander.core.results.summaries import BodySummary, WallOut, vector
from wander.core.shaping.offset_skin import EndsInPoint, NeighboursMiss, NotATube, TooTight, WallsMeet
from wander.core.shaping.shell import Shell
from wander.core.shaping.walled import walled
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.lies import SHARES
from wander.core.steps.thick import thick
from wander.core.steps.wall.params import WallParams

HALVES = 5
"""Thicknesses that are tried to say what goes."""


def build(params: WallParams, inputs: Inputs) -> Built:
    step, base = inputs.step, inputs.exact_body(params.body)
    wrong: list[list[str | int]] = [["own", k, "thickness"] for k, each in enumerate(params.own) if each.thickness <= 0]
    if params.thickness <= 0:
        wrong.append(["thickness"])
    if wrong:
        raise StepRefused([no_thickness(step, wrong[0])])
    if not base.closed:
        return _of_sheet(params, base, inputs)
    mine = {"step": params.body.step}
    picked = [inputs.face(ref.model_copy(update=mine), ["open", k]) for k, ref in enumerate(params.open)]
    alike = [faces_alike(base, face) for face in picked] if params.copies else []
    open_ = list(dict.fromkeys([*(face.name for face in picked), *(name for each in alike for name in each.found)]))
    own = {inputs.face(each.face.model_copy(update=mine), ["own", k, "face"]).name: each.thickness for k, each in enumerate(params.own)}
    found = _of_pieces(params, base, open_, own, inputs)
    lacks = max((each.without for each in alike), default=0)

    def numbers() -> tuple[BodySummary, list[Finding]]:
        wall = None if found.wall is None else found.wall()
        inputs.pause()
        findings = [] if wall is None else _uneven(params, wall, inputs)
        if lacks:
            findings.append(not_on_all_copies(step, lacks, ["copies"]))
        told = None if wall is None else _told(wall)
        return body_summary(found.body, inputs.tolerances).model_copy(update={"wall": told}), findings

    return Built.measured(found.body, numbers, inputs)


@dataclass(frozen=True)
class _Hollow:
    """wall: measures it; None where faces have thicknesses of their own."""

    body: Body
    wall: Callable[[], Thickness] | None


def _of_pieces(params: WallParams, base: Body, open_: list[str], own: dict[str, float], inputs: Inputs) -> _Hollow:
    """Bodies that are taken as one, a row of copies, are hollowed each by itself."""
    pieces = pieces_of(base)
    if len(pieces) == 1:
        return _hollowed(params, base, open_, own, inputs)
    quiet = replace(inputs, shaped=lambda skins: None)
    found = []
    for piece in pieces:
        names = {face.name for face in piece.faces}
        mine = {name: each for name, each in own.items() if name in names}
        found.append(_hollowed(params, piece, [name for name in open_ if name in names], mine, quiet))
    walls = [each.wall for each in found if each.wall is not None]
    body = replace(gathered([each.body for each in found]), along=base.along)
    return _Hollow(body, (lambda: of_all([wall() for wall in walls])) if len(walls) == len(found) else None)


def _hollowed(params: WallParams, base: Body, open_: list[str], own: dict[str, float], inputs: Inputs) -> _Hollow:
    step, named = inputs.step, inputs.named(params.body)
    try:
        return _of_own_skin(params, base, open_, own, inputs)
    except TooTight as error:
        factor = 2.0 if params.way == "middle" else 1.0
        raise StepRefused([wall_too_thick(step, named, error.place, factor * error.fits)]) from error
    except WallsMeet as error:
        raise StepRefused([wall_too_thick(step, named, error.place, _fits(params, base, open_, own, inputs))]) from error
    except EndsInPoint as error:
        raise StepRefused([no_room_at_point(step, named, error)]) from error
    except (NotATube, NeighboursMiss) as error:
        if own or params.way == "middle":
            raise StepRefused([only_from_own_skin(step, named, error)]) from error
        return _by_kernel(params, base, open_, inputs)


def _fits(params: WallParams, base: Body, open_: list[str], own: dict[str, float], inputs: Inputs) -> float | None:
    """A thickness that goes where this one is too much, found by halves; None where one of the faces has too much by itself."""
    low, high, thickness = 0.0, params.thickness, params.thickness
    for _ in range(HALVES):
        thickness = (low + high) / 2
        try:
            _walled(params.model_copy(update={"thickness": thickness}), base, open_, own, inputs)
        except GeometryError:
            high = thickness
        else:
            low = thickness
    return low or None


def _of_own_skin(params: WallParams, base: Body, open_: list[str], own: dict[str, float], inputs: Inputs) -> _Hollow:
    """From the body's own surfaces. Raises NotATube, TooTight, WallsMeet, NeighboursMiss."""
    made, pairs = _walled(params, base, open_, own, inputs)
    inputs.shaped((made,))
    inputs.pause()
    body = of_shells((made,), base.along)
    volume, before = (each.volume_about if inputs.passing else each.measures.volume for each in (body, base))
    if volume <= 0 or (params.way == "inwards" and volume >= before):
        raise WallsMeet(base.measures.center)
    even = all(each == params.thickness for each in own.values())
    return _Hollow(body, partial(_measured, made, pairs) if even else None)


def _walled(params: WallParams, base: Body, open_: list[str], own: dict[str, float], inputs: Inputs) -> tuple[Shell, tuple[tuple[int, int], ...]]:
    if base.exact or len(base.skins) != 1:
        raise NotATube("it is not one skin")
    (skin,) = base.skins
    thickness = {name: own.get(name, params.thickness) for name in skin.names}
    inwards, outwards = ({name: share * each for name, each in thickness.items()} for share in SHARES[params.way])
    return walled(skin, inwards, outwards, open_, inputs.step.id)


def _measured(made: Shell, pairs: tuple[tuple[int, int], ...]) -> Thickness:
    return measured([made.faces[inner] for inner, _ in pairs], [made.faces[outer] for _, outer in pairs])


def _uneven(params: WallParams, found: Thickness, inputs: Inputs) -> list[Finding]:
    return [wall_uneven(inputs.step, found, params.thickness)] if found.least < 0.99 * params.thickness else []


def _by_kernel(params: WallParams, base: Body, open_: list[str], inputs: Inputs) -> _Hollow:
    if inputs.kernel is None:
        raise NeedsExact
    signed = params.thickness if params.way == "inwards" else -params.thickness
    try:
        body, wall = inputs.kernel.walled(base, signed, open_, inputs.step.id)
    except KernelFailed as error:
        raise StepRefused([not_walled(inputs.step, inputs.named(params.body), error)]) from error
    return _Hollow(body, lambda: wall)


def _of_sheet(params: WallParams, sheet: Body, inputs: Inputs) -> Built:
    """A sheet made thick: there is no inside, so inwards is against its normals."""
    step, named = inputs.step, inputs.named(params.body)
    if params.open or params.own:
        raise StepRefused([sheet_has_no_faces(step, named)])
    if inputs.kernel is None:
        raise NeedsExact
    try:
        made, whole = thick(sheet, params.thickness, SHARES[params.way], inputs.kernel, step.id)
    except (KernelFailed, CombineFailed) as error:
        raise StepRefused([not_thickened(step, named, error)]) from error
    summary = body_summary(made, inputs.tolerances).model_copy(update={"wall": _told(whole).model_copy(update={"of_sheet": True})})
    return Built(made, summary, _uneven(params, whole, inputs))


def _told(found: Thickness) -> WallOut:
    return WallOut(least=found.least, largest=found.largest, mean=found.mean, places=found.places, thin=vector(found.thin), thick=vector(found.thick))
