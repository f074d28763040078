"""What a batch of edits does, in a few words: `move Station 3`, `draw on Belly`."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wander.core.document import edits as e
from wander.core.document.document import Document

MOST = 80
LATER = (e.RenameStep, e.SkipStep, e.SetFinish, e.MoveStep, e.SetParam, e.Draw)
"""Said of a batch only where it does nothing that is said before."""


def in_words(edits: Sequence[e.Edit], before: Document) -> str:
    """What a designer would say that the edits do to a document: of a batch its gist, what it adds before what it takes away."""
    chosen = min(edits, key=lambda edit: _rank(edit, before), default=None)
    said = "the last change" if chosen is None else _said(chosen, edits, before)
    return said if len(said) <= MOST else said[: MOST - 1] + "…"


def _rank(edit: e.Edit, before: Document) -> int:
    if isinstance(edit, e.AddStep):
        # a body is what a batch is for; the planes and sections that it needs come with it
        return 1 if edit.kind == "station" else 0
    return 3 if isinstance(edit, LATER) else 2


def _said(edit: e.Edit, edits: Sequence[e.Edit], before: Document) -> str:
    def named(step: str) -> str:
        added = next((a.name for a in edits if isinstance(a, e.AddStep) and a.alias == step), None)
        found = before.step(step)
        return added or (found.name if found is not None else "a step")

    match edit:
        case e.AddStep():
            return f"add {edit.name}"
        case e.RemoveStep():
            gone = [one for one in edits if isinstance(one, e.RemoveStep)]
            return f"remove {named(edit.step)}" + (f" and {len(gone) - 1} more" if len(gone) > 1 else "")
        case e.RenameStep():
            return f"call {named(edit.step)} {edit.name}"
        case e.SkipStep():
            return f"{'skip' if edit.skip else 'build'} {named(edit.step)}"
        case e.SetFinish():
            return f"finish {named(edit.step)}"
        case e.MoveStep():
            return f"put {named(edit.step)} elsewhere in the order"
        case e.SetParam():
            return f"change {_field(edit.path, edit.value)} of {named(edit.step)}"
        case e.Draw():
            return f"draw on {named(edit.step)}"
        case e.ReleaseCopy():
            return f"release {named(edit.step)}"
        case e.ScalePicture():
            return f"scale {named(edit.step)}"
        case e.RenameDesign():
            return f"call the design {edit.name}"
        case e.SetUnit():
            return f"count in {edit.unit.value}"
        case e.SetDimension():
            return f"set {edit.name} to {edit.value}" if isinstance(edit.value, str) else f"set {edit.name} to {edit.value:g}"
        case e.RenameDimension():
            return f"call {edit.name} {edit.to}"
        case e.RemoveDimension():
            return f"remove {edit.name}"
        case e.BuildUpTo():
            return "build to the end" if edit.step is None else f"build up to {named(edit.step)}"


def _field(path: Sequence[str | int], value: Any) -> str:
    """The field that a path leads to, as people read it: the last word of the path, without the value that it wraps."""
    words = [part for part in path if isinstance(part, str) and part not in ("value", "type")]
    return words[-1].replace("_", " ").replace("-", " ") if words else "a number"
