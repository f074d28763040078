"""The end of every step that makes a body: kept apart, put together with another one, or elsewhere."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from wander.core.bodies.body import Along, Body, of_shells
from wander.core.bodies.combining import CombineFailed, How
from wander.core.checks.areas import inside_out
from wander.core.checks.combining import not_combined, sheet_apart, to_no_effect
from wander.core.document.fields import BodyRef
from wander.core.document.findings import Finding
from wander.core.results.bodies import body_summary
from wander.core.shaping.shell import Shell
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.result import NewBody, Result


def finished(skins: tuple[Shell, ...], along: Along | None, result: Result, inputs: Inputs) -> tuple[Body, list[Finding]]:
    """The body that a step leaves, from the skins that it made. Raises StepRefused."""
    if isinstance(result, NewBody):
        inputs.shaped(skins)  # the shape first, then the numbers
        body = _right_way_out(of_shells(skins, along), inputs)
        inputs.pause()
        return body, []
    own = _right_way_out(inputs.own(lambda: of_shells(skins, along)), inputs)
    return put_together(How(result.type), result.body, [own], [inputs.step.name], inputs)


def _right_way_out(body: Body, inputs: Inputs) -> Body:
    """Raises StepRefused for a skin that encloses nothing, or less."""
    if body.closed and (body.volume_about if inputs.passing else body.measures.volume) <= 0:
        raise StepRefused([inside_out(inputs.step)])
    return body


def put_together(how: How, body: BodyRef, tools: Sequence[Body], names: Sequence[str], inputs: Inputs) -> tuple[Body, list[Finding]]:
    """The body joined with tools, less them, or as far as it lies in them. names: of the tools. Raises StepRefused with the reason."""
    base, named = inputs.body(body), inputs.named(body)
    if open_ := [name for name, part in zip([named.name, *names], [base, *tools], strict=True) if not part.closed]:
        raise StepRefused([sheet_apart(inputs.step, how, open_[0])])
    try:
        found = inputs.combine(how, base, tools)
    except CombineFailed as error:
        raise StepRefused([not_combined(inputs.step, how, named, names, base, tools, error)]) from error
    return found, to_no_effect(inputs.step, how, named, base, found)


def elsewhere(body: Body, inputs: Inputs, findings: list[Finding] | None = None) -> Built:
    """The result of a step that only puts bodies somewhere: of own surfaces alone the shape is told before the numbers."""
    if body.rough is None and not body.exact:
        inputs.shaped(body.skins)
    return left(body, inputs, findings or [])


def left(body: Body, inputs: Inputs, findings: Sequence[Finding] = (), along: Callable[[], dict[str, Any]] = dict) -> Built:
    """The body that a step leaves, with what is told of it. along: what `body_summary` needs of its length, if that is not read off it."""
    return Built.measured(body, lambda: (body_summary(body, inputs.tolerances, **along()), list(findings)), inputs)
