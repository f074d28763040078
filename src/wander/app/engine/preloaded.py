"""What the process that workers split off from has done before the first: everything loaded, and set up where that takes a moment."""

import manifold3d  # noqa: F401
import scipy.interpolate
import scipy.linalg.lapack  # noqa: F401

import wander.app.engine.worker  # noqa: F401
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
