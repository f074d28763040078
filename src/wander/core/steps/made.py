"""The end of every step that makes a body: kept apart, or put together with another one."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.body import Body
from wander.core.bodies.combining import CombineFailed, How
from wander.core.checks.combining import not_combined
from wander.core.document.fields import BodyRef
from wander.core.steps.inputs import Inputs, StepRefused
from wander.core.steps.result import NewBody, Result


def finished(own: Body, result: Result, inputs: Inputs) -> Body:
    """The body that a step leaves, from the one that it made. Raises StepRefused."""
    if isinstance(result, NewBody):
        inputs.shaped(own.skins)
        return own
    return put_together(How(result.type), result.body, [own], [inputs.step.name], inputs)


def put_together(how: How, body: BodyRef, tools: Sequence[Body], names: Sequence[str], inputs: Inputs) -> Body:
    """The body joined with tools, less them, or as far as it lies in them. names: of the tools. Raises StepRefused with the reason."""
    try:
        return inputs.combine(how, inputs.body(body), tools)
    except CombineFailed as error:
        raise StepRefused([not_combined(inputs.step, how, inputs.named(body), names, inputs.body(body), tools, error)]) from error
