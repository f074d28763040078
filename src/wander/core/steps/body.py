"""Bodies as later steps, the kernel and the screen use them."""

from __future__ import annotations

from dataclasses import dataclass

from wander.core.shaping.loft import Plain
from wander.core.shaping.mass import MassProperties
from wander.core.shaping.shell import Shell


@dataclass(frozen=True)
class Body:
    """A body before the kernel has seen it. plain: the skin before laws, from which sections are cut, and the direction of its Run."""

    shell: Shell
    mass: MassProperties
    plain: Plain
