"""Findings about single numbers: expressions that can't be worked out, values out of range."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import ValidationError

from wander.core.document.document import Document, Step
from wander.core.document.edits import Edit, SetDimension, SetParam
from wander.core.document.expressions import Circular, ExpressionError, UnknownName, evaluate, renamed
from wander.core.document.findings import Finding, Fix, Severity, sentence
from wander.core.drawing.outlines.shapes import ShapeError


def params_wrong(step: Step, error: ValidationError) -> list[Finding]:
    """One finding for each number or value of a step that can't be used."""
    found = []
    for item in error.errors(include_url=False):
        path = _path_in(step.params, item["loc"])
        cause = item.get("ctx", {}).get("error")
        if isinstance(cause, ExpressionError):
            found.append(_expression_wrong(step, path, cause))
            continue
        title = f"{step.name}: {_spoken(path)} can't be used"
        detail = str(cause) if cause is not None else item["msg"]
        found.append(Finding(code="bad-value", severity=Severity.ERROR, step=step.id, title=title, detail=f"{detail}.", path=path))
    return found


def _expression_wrong(step: Step, path: list[str | int], cause: ExpressionError) -> Finding:
    fixes = []
    if isinstance(cause, UnknownName):
        if cause.nearest is not None:
            edit = SetParam(do="set-param", step=step.id, path=path, value=renamed(cause.text, cause.name, cause.nearest))
            fixes.append(Fix(label=f"Use {cause.nearest}", edits=[edit]))
        new = SetDimension(do="set-dimension", name=cause.name, value=10.0)
        fixes.append(Fix(label=f"Add a dimension {cause.name} of 10 mm", edits=[new]))
    return Finding(
        code=cause.code,
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name}: {_spoken(path)} can't be worked out",
        detail=f"In “{cause.text}” {cause}." if isinstance(cause, UnknownName) else f"{str(cause)[0].upper()}{str(cause)[1:]}.",
        path=path,
        fixes=fixes,
    )


def dimensions_wrong(document: Document) -> list[Finding]:
    """One finding for each named dimension that has no value: unknown names, rings, wrong units."""
    found: list[Finding] = []
    rings: set[frozenset[str]] = set()
    scope = document.scope()
    for dimension in document.dimensions:
        try:
            evaluate(dimension.value, dimension.kind, scope)
        except ExpressionError as error:
            fixes: list[Fix] = []
            if isinstance(error, Circular):
                if frozenset(error.names) in rings:
                    continue
                rings.add(frozenset(error.names))
            if isinstance(error, UnknownName) and error.nearest and isinstance(dimension.value, str):
                value = renamed(dimension.value, error.name, error.nearest)
                edit: Edit = SetDimension(do="set-dimension", name=dimension.name, value=value, kind=dimension.kind)
                fixes.append(Fix(label=f"Use {error.nearest}", edits=[edit]))
            title = f"The dimension {dimension.name} can't be worked out"
            found.append(
                Finding(code=error.code, severity=Severity.ERROR, step="", title=title, detail=f"{error}.", path=[dimension.name], fixes=fixes)
            )
    return found


def shape_out_of_range(step: Step, error: ShapeError) -> Finding:
    """A number of a shape that does not make a shape; the repair sets the nearest one that does."""
    path: list[str | int] = ["shape", error.field]
    fixes = []
    if error.limit is not None:
        edit = SetParam(do="set-param", step=step.id, path=path, value=error.limit)
        fixes.append(Fix(label=f"Set the {error.field} to {error.limit:g}", edits=[edit]))
    detail = f"{sentence(error)}."
    return Finding(
        code="shape-out-of-range", severity=Severity.ERROR, step=step.id, title=f"{step.name} has no outline", detail=detail, path=path, fixes=fixes
    )


def count_out_of_range(step: Step, count: int, least: int, most: int) -> Finding:
    """More or fewer copies than there can be; the repair takes the nearest number that goes."""
    nearest = min(max(count, least), most)
    return Finding(
        code="bad-value",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} can't be made {count} times",
        detail=f"There can be {least} to {most}, the original among them.",
        path=["count"],
        fixes=[Fix(label=f"Make it {nearest}", edits=[SetParam(do="set-param", step=step.id, path=["count"], value=nearest)])],
    )


def _path_in(params: object, location: Sequence[str | int]) -> list[str | int]:
    """The validation location without the names of union members that it also passes through."""
    path: list[str | int] = []
    here = params
    for part in location:
        if isinstance(here, dict) and isinstance(part, str):
            if part not in here and path and here.get("type") == part:
                continue
            here = here.get(part)
        elif isinstance(here, list | tuple) and isinstance(part, int) and part < len(here):
            here = here[part]
        path.append(part)
    return path


def _spoken(path: Sequence[str | int]) -> str:
    words = [f"number {part + 1}" if isinstance(part, int) else part for part in path if part != "shape"]
    return " ".join(words) or "a value"
