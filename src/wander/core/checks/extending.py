"""Findings about sheets that go on beyond their rim."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Where, sentence
from wander.core.shaping.extension import ComesRound, Folds

SAFE = 0.9
"""Of the distance at which it would come round: what the repair offers."""


def no_edge_yet(step: Step, body: Step) -> Finding:
    """Nothing says where."""
    detail = "Pick edges of its rim in the scene, or let it go on all round."
    return refused(step, "nothing-picked", f"{step.name} waits for an edge of {body.name}", detail, ["edges"], Where(), _all_round(step))


def closed_already(step: Step, body: Step) -> Finding:
    """A body has no rim."""
    detail = "It is closed, so it has no rim to go on from. Copy its faces as a sheet first: an offset by 0."
    return refused(step, "extend-closed", f"{body.name} is no sheet", detail, ["body"], Where(names=[body.id]), skipping(step))


def extends_by_nothing(step: Step) -> Finding:
    """A distance of 0 or less."""
    return refused(step, "extend-by-nothing", f"{step.name} goes on by nothing", "It has to be more than 0 mm.", ["distance"], Where())


def not_of_the_rim(step: Step, body: Step, edge: str, path: Sequence[str | int]) -> Finding:
    """An edge at which two faces meet."""
    detail = "Faces meet at the marked edge, so the sheet does not end there. Pick edges of its rim."
    return refused(step, "extend-inside", f"{body.name} does not end at an edge that was picked", detail, path, Where(names=[edge]), _all_round(step))


def comes_round(step: Step, body: Step, error: ComesRound) -> Finding:
    """It curves so much that it would meet itself."""
    fits = float(f"{SAFE * error.fits:.2g}")
    fixes = [
        Fix(label=f"Make it {fits:g} mm", edits=[SetParam(do="set-param", step=step.id, path=["distance"], value=fits)]),
        _straight(step),
    ]
    detail = f"{sentence(error)}, at the marked place where it curves most."
    return refused(step, "extend-comes-round", f"{body.name} can't curve on so far", detail, ["distance"], Where(points=[spot(error.place)]), *fixes)


def folds_over(step: Step, body: Step, error: Folds) -> Finding:
    """Lines across meet on the hollow side of the rim."""
    detail = f"{sentence(error)}: on the hollow side of its rim there is less room. A shorter distance goes, or other edges."
    return refused(step, "extend-folds", f"{body.name} can't go on so far", detail, ["distance"], Where(points=[spot(error.place)]), skipping(step))


def not_extended(step: Step, body: Step, error: Exception) -> Finding:
    """Nothing else is known of it."""
    detail = f"{sentence(error)}. Fewer edges or a shorter distance may go."
    return refused(step, "not-extended", f"{body.name} could not be extended", detail, ["edges"], Where(names=[body.id]), skipping(step))


def _all_round(step: Step) -> Fix:
    return Fix(label="Extend the whole rim", edits=[SetParam(do="set-param", step=step.id, path=["whole"], value=True)])


def _straight(step: Step) -> Fix:
    return Fix(label="Let it go on straight", edits=[SetParam(do="set-param", step=step.id, path=["way"], value="straight")])
