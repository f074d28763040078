"""How bodies look and what they are made of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from wander.core.document.document import Finish, Step


def finish_of(step: str, steps: Mapping[str, Step], changes: Mapping[str, Sequence[str]]) -> Finish | None:
    """The finish of the body that a step makes: its own; a body that was changed keeps the one that it had. changes: what each step uses up."""
    return steps[step].finish or next((finish_of(used, steps, changes) for used in changes.get(step, ())[:1]), None)
