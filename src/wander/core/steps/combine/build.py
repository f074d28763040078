"""Combine: bodies joined, cut or overlapped."""

from __future__ import annotations

from wander.core.bodies.combining import How
from wander.core.checks.references import same_twice
from wander.core.steps.combine.params import CombineParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import left, put_together


def build(params: CombineParams, inputs: Inputs) -> Built:
    named = [params.body.step, *(tool.step for tool in params.tools)]
    if len(set(named)) < len(named):
        raise StepRefused([same_twice(inputs.step, inputs.steps[next(s for s in named if named.count(s) > 1)], len(params.tools))])
    how = How(params.how)
    tools = [inputs.body(tool) for tool in params.tools]
    body, findings = put_together(how, params.body, tools, [inputs.named(tool).name for tool in params.tools], inputs)
    return left(body, inputs, findings)
