"""What the process that workers split off from has done before the first: everything loaded, and set up where that takes a moment."""

from __future__ import annotations

import os
import sys
from importlib import import_module

HEAVY = ("numpy", "manifold3d", "scipy.linalg.lapack", "scipy.interpolate", "wander.core.steps", "wander.app.engine.worker")


def _load(server: int) -> None:
    """Where the server ends while this goes on, nobody has use for it any more."""
    for name in HEAVY:
        if os.getppid() != server:
            sys.exit()
        import_module(name)


def _set_up() -> None:
    from wander.core.design.code import code_version
    from wander.core.document.document import Document
    from wander.core.document.units import quantity
    from wander.core.steps import REGISTRY

    code_version()
    quantity(1.0, "mm")
    Document.model_rebuild()
    for kind in REGISTRY:
        kind.params.model_rebuild()
        _ = kind.builder


_load(os.getppid())
_set_up()
