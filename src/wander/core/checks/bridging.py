"""Findings about bridges."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Where, sentence
from wander.core.geometry.basis import Floats
from wander.core.shaping.bridging import NotFlat

WORDS = {"first": "begins", "second": "ends"}


def no_edges(step: Step, side: str) -> Finding:
    """An end that was left empty."""
    detail = "Pick an edge in the scene; what goes on smoothly from it comes along."
    return refused(step, "bridge-no-edges", f"{step.name} waits for the edges at which it {WORDS[side]}", detail, [side, "edges"], Where())


def run_apart(step: Step, side: str, names: Sequence[str]) -> Finding:
    """Edges of one end that don't follow each other."""
    detail = f"Those at which it {WORDS[side]} have gaps between them, or part. Pick edges that follow each other, or a closed loop."
    return refused(step, "bridge-run-apart", f"The edges of {step.name} don't make one run", detail, [side, "edges"], Where(names=list(names)))


def no_face_behind(step: Step, side: str, edge: str) -> Finding:
    """An edge without a face that the bridge could leave."""
    detail = "The face beside the marked edge has no surface of its own. Pick another edge."
    return refused(step, "bridge-no-face", f"{step.name} has nothing to go on from", detail, [side, "edges"], Where(names=[edge]))


def one_closes(step: Step, names: Sequence[str]) -> Finding:
    """A closed run and an open one."""
    detail = "One run of edges closes and the other does not: nothing says where the closed one should open. Pick the rest of a loop, or part of it."
    return refused(
        step, "bridge-one-closes", f"{step.name} goes from a closed run to an open one", detail, ["second", "edges"], Where(names=list(names))
    )


def runs_touch(step: Step, place: Floats) -> Finding:
    """Runs that meet."""
    detail = "At the marked place both runs of edges come together, and the bridge would have no width. Pick edges that stay apart."
    return refused(step, "bridge-no-width", f"{step.name} has no width", detail, ["second", "edges"], Where(points=[spot(place)]), skipping(step))


def end_not_flat(step: Step, error: NotFlat) -> Finding:
    """An end that is to be closed and is not flat."""
    fix = Fix(label="Leave both ends open", edits=[SetParam(do="set-param", step=step.id, path=["ends"], value="open")])
    end = WORDS["first" if error.first else "second"]
    detail = f"The edges at which it {end} leave their plane by {error.off:.3g} mm at the marked place, so no flat face can close it there."
    return refused(step, "bridge-end-not-flat", f"{step.name} can't be closed", detail, ["ends"], Where(points=[spot(error.place)]), fix)


def no_bridge(step: Step, error: Exception) -> Finding:
    """The surfaces could not be made within their tolerance."""
    detail = f"{sentence(error)}. Pick edges that run more alike, or let it leave them by position only."
    fixes = [
        Fix(
            label="By position only",
            edits=[SetParam(do="set-param", step=step.id, path=[side, "meets"], value="position") for side in ("first", "second")],
        )
    ]
    return refused(step, "bridge-not-made", f"{step.name} could not be made", detail, ["first", "edges"], Where(), *fixes)
