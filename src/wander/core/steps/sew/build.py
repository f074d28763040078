"""Sew."""

from __future__ import annotations

from wander.core.bodies.kernel import KernelFailed
from wander.core.checks.references import same_twice
from wander.core.checks.surfaces import gap_left, in_pieces, needs_a_sheet, not_sewn, within_nothing
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import left
from wander.core.steps.seen_as_it_was import as_it_was
from wander.core.steps.sew.params import SewParams


def build(params: SewParams, inputs: Inputs) -> Built:
    refs = [params.body, *params.others]
    named = [ref.step for ref in refs]
    if len(set(named)) < len(named):
        raise StepRefused([same_twice(inputs.step, inputs.steps[next(s for s in named if named.count(s) > 1)], len(params.others), "others")])
    if params.within <= 0:
        raise StepRefused([within_nothing(inputs.step)])
    sheets = [inputs.exact_body(ref) for ref in refs]
    if closed := [inputs.named(ref) for ref, sheet in zip(refs, sheets, strict=True) if sheet.closed]:
        raise StepRefused([needs_a_sheet(inputs.step, closed[0], ["body"] if closed[0].id == params.body.step else ["others"])])
    if inputs.kernel is None:
        return as_it_was(sheets, inputs)
    try:
        made = inputs.kernel.sewn(sheets, params.within)
    except KernelFailed as error:
        raise StepRefused([not_sewn(inputs.step, error)]) from error
    findings = [gap_left(inputs.step, made.gaps)] if made.gaps else []
    if made.pieces > 1:
        findings.append(in_pieces(inputs.step, made.pieces))
    return left(made.body, inputs, findings)
