"""Edits applied to documents. A document is never changed: every edit gives a new one."""

from __future__ import annotations

import contextlib
import copy
import math
import re
from collections.abc import Callable, Hashable, Iterator, Sequence, Set
from typing import Any

import numpy as np
from pydantic import ValidationError

from wander.core.design.converting import with_places_kept
from wander.core.design.errors import EditRefused, UnreadableDocument
from wander.core.design.linking import relinked, renamed_parts
from wander.core.design.reading import check_step, first_complaint
from wander.core.document import edits as e
from wander.core.document.acts import Act, Add, Pull
from wander.core.document.document import Document, NamedDimension, Step
from wander.core.document.expressions import Circular, ExpressionError, Kind, UnknownName, WrongUnit, evaluate, renamed
from wander.core.document.typed import with_default_unit
from wander.core.drawing.edits.acts import perform, performed
from wander.core.drawing.edits.begun import Begun, Hand
from wander.core.drawing.holding.solver import Solved
from wander.core.drawing.lines import lines_of, stands_alone
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.between_rails import about
from wander.core.steps import REGISTRY
from wander.core.steps.picture.params import PictureParams
from wander.core.steps.quantities import Place, with_expressions_changed
from wander.core.steps.section.params import SectionParams
from wander.core.steps.section.shapes import Copied
from wander.core.steps.section.starters import drawing_of, grown, is_drawn_on, labels_as_drawn

MOST_LETTERS = 80
"""Of the name of a step."""
_NUMBERED = re.compile(r"(.*\S) (\d{1,6})")


def apply_edits(document: Document, edits: Sequence[e.Edit], hand: Hand | None = None) -> Document:
    """The document after a batch of edits, all or none. Raises EditRefused with the number of the edit that does not fit.

    hand: whose pulls on drawings these may be.
    """
    aliases: dict[str, str] = {}
    for index, edit in enumerate(edits):
        try:
            pulled = None if hand is None or len(edits) > 1 else _pulled(document, edit, hand)
            document = _apply(document, edit, aliases) if pulled is None else pulled
        except ValidationError as error:
            raise EditRefused(first_complaint(error), index) from None
        except UnreadableDocument as error:
            raise EditRefused(error.in_words, index) from None
        except (ExpressionError, GeometryError, LookupError) as error:
            raise EditRefused(str(error.args[0]), index) from None
    return document


def _apply(document: Document, edit: e.Edit, aliases: dict[str, str]) -> Document:
    match edit:
        case e.RenameDesign():
            return _with(document, name=edit.name)
        case e.SetUnit():
            return _with(document, unit=edit.unit)
        case e.SetDimension():
            return _set_dimension(document, edit)
        case e.RenameDimension():
            return _rename_dimension(document, edit)
        case e.BuildUpTo():
            return _with(document, until=_find(document, edit.step, aliases).id if edit.step is not None else None)
        case e.RemoveDimension():
            return _with(document, dimensions=tuple(d for d in document.dimensions if d.name != edit.name))
        case e.AddStep():
            return _add(document, edit, aliases)
        case e.SetParam():
            return _set_param(document, edit, aliases)
        case e.Draw():
            return _draw(document, edit, aliases)
        case e.ReleaseCopy():
            return _release_copy(document, edit, aliases)
        case e.ScalePicture():
            return _scale_picture(document, edit, aliases)
        case e.RenameStep():
            return _replace(document, _find(document, edit.step, aliases), name=edit.name)
        case e.SkipStep():
            return _replace(document, _find(document, edit.step, aliases), skip=edit.skip)
        case e.SetFinish():
            return _replace(document, _find(document, edit.step, aliases), finish=edit.finish)
        case e.MoveStep():
            step = _find(document, edit.step, aliases)
            rest = [s for s in document.steps if s.id != step.id]
            return _with(document, steps=_placed(rest, step, edit.before, aliases))
        case e.RemoveStep():
            step = _find(document, edit.step, aliases)
            until = None if document.until == step.id else document.until
            left = tuple(relinked(s, step.id, _changed_by(document, step)) for s in document.steps if s.id != step.id)
            return _with(document, steps=left, until=until)


def _with(document: Document, **changes: Any) -> Document:
    """A checked copy: the model's own rules hold for every document there is."""
    values = {name: getattr(document, name) for name in Document.model_fields}
    return Document.model_validate({**values, **changes})


def _replace(document: Document, step: Step, **changes: Any) -> Document:
    new = Step.model_validate({**step.model_dump(), **changes})
    check_step(new)
    return _with(document, steps=tuple(new if s.id == step.id else s for s in document.steps))


def _find(document: Document, name: str, aliases: dict[str, str]) -> Step:
    step = document.step(aliases.get(name, name))
    if step is None:
        raise LookupError(f"there is no step “{name}” in this design")
    return step


def _placed(rest: list[Step], step: Step, before: str | None, aliases: dict[str, str]) -> tuple[Step, ...]:
    if before is None:
        return (*rest, step)
    target = aliases.get(before, before)
    at = next((i for i, s in enumerate(rest) if s.id == target), None)
    if at is None:
        raise LookupError(f"there is no step “{before}” to put it before")
    return (*rest[:at], step, *rest[at:])


def _add(document: Document, edit: e.AddStep, aliases: dict[str, str]) -> Document:
    step_id = f"{edit.kind}-{document.next}"
    params = _measured(document, edit.kind, _resolved(edit.params, aliases))
    step = Step(id=step_id, kind=edit.kind, name=_free_name(edit.name, {known.name for known in document.steps}), params=params)
    check_step(step)
    if edit.alias is not None:
        aliases[edit.alias] = step_id
    return _with(document, steps=_placed(list(document.steps), step, edit.before, aliases), next=document.next + 1)


def _free_name(wanted: str, taken: Set[str]) -> str:
    """The name itself, or with the next number that no step has: two steps of one name can't be told apart in words."""
    if wanted not in taken:
        return wanted
    found = _NUMBERED.fullmatch(wanted)
    word, number = (found[1], int(found[2])) if found else (wanted, 1)
    while True:
        number += 1
        name = f"{word[: MOST_LETTERS - len(str(number)) - 1]} {number}"
        if name not in taken:
            return name


def _set_dimension(document: Document, edit: e.SetDimension) -> Document:
    value, kind = edit.value, edit.kind
    if isinstance(edit.value, str):
        try:
            value = _kept(edit.value, kind, document)
        except WrongUnit:
            # what is typed with its unit says itself what it measures
            kind = Kind.LENGTH if kind is Kind.ANGLE else Kind.ANGLE
            value = _kept(edit.value, kind, document)
    new = NamedDimension(name=edit.name, value=value, kind=kind)
    if any(d.name == edit.name for d in document.dimensions):
        return _with(document, dimensions=tuple(new if d.name == edit.name else d for d in document.dimensions))
    return _with(document, dimensions=(*document.dimensions, new))


def _rename_dimension(document: Document, edit: e.RenameDimension) -> Document:
    names = [d.name for d in document.dimensions]
    if edit.name not in names:
        raise LookupError(f"there is no dimension “{edit.name}” in this design")
    if edit.to != edit.name and edit.to in names:
        raise LookupError(f"there is a dimension “{edit.to}” already")

    def follow(text: str, quantity: str = "", path: Place = ()) -> str:
        return renamed(text, edit.name, edit.to)

    def of_dimension(d: NamedDimension) -> NamedDimension:
        value = follow(d.value) if isinstance(d.value, str) else d.value
        return NamedDimension(name=edit.to if d.name == edit.name else d.name, value=value, kind=d.kind)

    def of_step(step: Step) -> Step:
        kind = REGISTRY.get(step.kind)
        return step if kind is None else step.model_copy(update={"params": with_expressions_changed(step.params, kind.schema, follow)})

    return _with(document, dimensions=tuple(map(of_dimension, document.dimensions)), steps=tuple(map(of_step, document.steps)))


def _set_param(document: Document, edit: e.SetParam, aliases: dict[str, str]) -> Document:
    step = _find(document, edit.step, aliases)
    params = copy.deepcopy(step.params)
    first = edit.path[0]
    kind = REGISTRY.get(step.kind)
    if first not in params and kind is not None:
        default = kind.schema["properties"].get(first, {}).get("default")
        params[str(first)] = copy.deepcopy(default)
    here: Any = params
    for part in edit.path[:-1]:
        here = _enter(here, part, edit.path)
    last = edit.path[-1]
    value = _resolved(edit.value, aliases)
    if isinstance(here, list) and isinstance(last, int) and last == len(here):
        here.append(value)
    elif isinstance(here, list) and isinstance(last, int):
        _enter(here, last, edit.path)
        here[last] = value
    elif isinstance(here, dict) and isinstance(last, str):
        here[last] = value
    else:
        _enter(here, last, edit.path)
    return _replace(document, step, params=_measured(document, step.kind, params, before=step.params))


def _draw(document: Document, edit: e.Draw, aliases: dict[str, str]) -> Document:
    step = _find(document, edit.step, aliases)
    if not is_drawn_on(step):
        raise LookupError(f"{step.name} is no section and no drawn rail, so nothing is drawn on it")
    scope = document.scope()
    before = step.params["shape"]
    shape = drawing_of(before, scope)
    document = renamed_parts(document, step.id, labels_as_drawn(before))
    if shape is not before and step.kind == "section":
        document = with_places_kept(document, step.id, before, shape)
    kinds = {hold["id"]: hold["type"] for hold in shape.get("holds", [])}
    drawn = perform(shape, [_with_units(act, kinds, document) for act in edit.acts], scope)
    params = _measured(document, step.kind, {**step.params, "shape": drawn}, before=step.params)
    return _replace(document, step, params=params)


def _pulled(document: Document, edit: e.Edit, hand: Hand) -> Document | None:
    """The document after a pull on what is drawn; None where the edit is anything else, or what is drawn becomes a drawing by it.

    No text that is typed comes into a drawing by a pull, so there is none to be looked at.
    """
    step = document.step(edit.step) if isinstance(edit, e.Draw) else None
    if step is None or not isinstance(edit, e.Draw) or not all(isinstance(act, Pull) for act in edit.acts):
        return None
    shape = step.params.get("shape", {})
    if not is_drawn_on(step) or shape.get("type") != "drawing":
        return None
    begun = hand.beginnings.of(shape, document.scope(), _known_numbers(document))
    return _replace(document, step, params={**step.params, "shape": performed(begun, edit.acts, _penning(step, begun, hand))})


def tell_as_kept(document: Document, hand: Hand, pulled: Set[str]) -> None:
    """Where the lines of drawings are that were pulled about, now that nobody pulls them. pulled: their steps."""
    for step in document.steps:
        begun = hand.beginnings.known(step.params.get("shape", {}), _known_numbers(document)) if step.id in pulled else None
        if begun is not None:
            performed(begun, (), _penning(step, begun, hand))


def _known_numbers(document: Document) -> Hashable:
    return tuple((d.name, d.kind, d.value) for d in document.dimensions)


def _penning(step: Step, begun: Begun, hand: Hand) -> Callable[[Solved], None]:
    """Tells where the lines of a drawing are, once it is solved."""

    def seen(solved: Solved) -> None:
        # what follows a body or a rail is only known where those are
        if solved.final and stands_alone(solved.drawing):
            hand.penned(step.id, lines_of(solved.drawing, (begun.drawing, begun.lines)))

    return seen


def _changed_by(document: Document, step: Step) -> str | None:
    """The body that a step replaces, which is there again once the step is gone."""
    kind = REGISTRY.get(step.kind)
    try:
        ref = kind.changes(kind.params.model_validate(step.params, context=document.scope())) if kind is not None else None
    except ValidationError:
        return None
    return ref.step if ref is not None else None


def _release_copy(document: Document, edit: e.ReleaseCopy, aliases: dict[str, str]) -> Document:
    step = _find(document, edit.step, aliases)
    if step.params.get("shape", {}).get("type") != "copied":
        raise LookupError(f"{step.name} is no linked copy")
    original = document.step(step.params["shape"]["section"]["step"])
    if original is None or original.kind != "section":
        raise LookupError(f"The section that {step.name} follows is gone. Give it a shape of its own, or take it away")
    scope = document.scope()
    own, other = (SectionParams.model_validate(s.params, context=scope) for s in (step, original))
    assert isinstance(own.shape, Copied)
    if own.shape.rails:
        raise LookupError(f"{step.name} is fitted between rails. Let it stand by its own numbers first")
    shape, scale = copy.deepcopy(original.params["shape"]), own.shape.scale
    if scale != 1.0 and shape["type"] in ("face", "edges"):
        raise LookupError(f"{original.name} goes round a face or a loop of edges, and has no drawing of its own that could be scaled")
    if scale != 1.0 and shape["type"] != "point":
        shape = grown(drawing_of(shape, scope), scale, scope)
    params = {**step.params, "shape": shape}
    if own.turn or any(own.at) or scale != 1.0 or any(own.shape.about):
        # both were placed: one after the other, the copy about a place of its own
        laid = about(np.array(own.shape.about), scale, own.turn, np.array(own.at))
        params["at"] = (laid.matrix @ np.array(other.at) + laid.at).tolist()
        params["turn"] = math.degrees(own.turn + other.turn)
    else:
        params |= {name: original.params[name] for name in ("at", "turn") if name in original.params}
    return _replace(document, step, params=params)


def _scale_picture(document: Document, edit: e.ScalePicture, aliases: dict[str, str]) -> Document:
    step = _find(document, edit.step, aliases)
    if step.kind != "picture":
        raise LookupError(f"{step.name} is no picture, so there is nothing to scale")
    scope = document.scope()
    known = PictureParams.model_validate(step.params, context=scope)
    text = edit.distance if isinstance(edit.distance, str) else f"{edit.distance} mm"
    wanted = evaluate(_kept(text, Kind.LENGTH, document), Kind.LENGTH, scope)
    (ax, ay), (bx, by) = edit.first, edit.second
    apart = math.hypot(bx - ax, by - ay)
    if apart < 1e-6 or wanted <= 0:
        raise LookupError("The two places have to lie apart, and their distance has to be more than zero")
    factor = wanted / apart
    at = [ax + (known.at[0] - ax) * factor, ay + (known.at[1] - ay) * factor]
    return _replace(document, step, params={**step.params, "width": known.width * factor, "at": at})


def _kept(text: str, kind: Kind, document: Document) -> float | str:
    """What to keep of a typed number. Raises ExpressionError where it can't be read, or measures something else than the field does."""
    value = with_default_unit(text, kind, document.unit)
    if isinstance(value, str):
        with contextlib.suppress(UnknownName, Circular):  # said beside the step, with what would help
            evaluate(value, kind, document.scope())
    return value


def _hold_with_units(hold: dict[str, Any], document: Document) -> dict[str, Any]:
    value = hold.get("value")
    if not isinstance(value, str):
        return hold
    return {**hold, "value": _kept(value, Kind.ANGLE if hold.get("type") == "angle" else Kind.LENGTH, document)}


def _with_units(act: Act, kinds: dict[str, str], document: Document) -> Act:
    """An act whose typed numbers no longer depend on the unit shown. kinds: of the holds, by id."""
    if isinstance(act, Add):
        return act.model_copy(update={"holds": [_hold_with_units(hold, document) for hold in act.holds]})
    angle = getattr(act, "type", kinds.get(getattr(act, "hold", ""))) == "angle"
    changes = {}
    for name in ("value", "radius", "length", "distance"):
        typed = getattr(act, name, None)
        if isinstance(typed, str):
            changes[name] = _kept(typed, Kind.ANGLE if angle else Kind.LENGTH, document)
    return act.model_copy(update=changes) if changes else act


def _enter(here: Any, part: str | int, path: Sequence[str | int]) -> Any:
    if isinstance(here, dict) and part in here:
        return here[part]
    if isinstance(here, list) and isinstance(part, int) and 0 <= part < len(here):
        return here[part]
    raise LookupError(f"there is nothing at {'.'.join(str(p) for p in path)}")


def _resolved(value: Any, aliases: dict[str, str]) -> Any:
    """The value with aliases in references turned into the ids they stand for."""
    if isinstance(value, dict):
        return {k: aliases.get(v, v) if k == "step" and isinstance(v, str) else _resolved(v, aliases) for k, v in value.items()}
    if isinstance(value, list):
        return [_resolved(v, aliases) for v in value]
    return value


def _measured(document: Document, kind_name: str, params: dict[str, Any], before: dict[str, Any] | None = None) -> dict[str, Any]:
    """Typed text in number fields, kept so that it does not depend on the unit shown. before: what stood there, which is not looked at again.

    Raises ExpressionError.
    """
    kind = REGISTRY.get(kind_name)
    if kind is None:
        return params
    known = set(_texts(before))

    def kept(text: str, quantity: str, path: Place) -> float | str:
        measures = {"length": Kind.LENGTH, "angle": Kind.ANGLE}.get(quantity, Kind.NUMBER)
        value = with_default_unit(text, measures, document.unit) if text in known else _kept(text, measures, document)
        return round(value) if quantity == "count" and isinstance(value, float) and value.is_integer() else value

    found = with_expressions_changed(params, kind.schema, kept)
    assert isinstance(found, dict)
    return found


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict | list):
        for item in value.values() if isinstance(value, dict) else value:
            if not isinstance(item, float | int):
                yield from _texts(item)
