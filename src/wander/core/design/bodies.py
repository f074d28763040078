"""The bodies of a built design and the files they can be handed over as."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from wander.core.bodies.body import Body
from wander.core.design.rebuild import StepBuilt
from wander.core.design.standing import standing
from wander.core.document.document import Document
from wander.core.exchange.formats import FileFormat
from wander.core.exchange.glb import write_glb
from wander.core.exchange.stl import write_stl
from wander.core.shaping.display import merged


@dataclass(frozen=True)
class NamedBody:
    """step: id of the step that made it. name: as the designer calls it. key: of the result."""

    step: str
    name: str
    key: str
    body: Body


class NothingToExport(ValueError):
    """The design has no body that is ready."""


def bodies(document: Document, built: Iterable[StepBuilt]) -> list[NamedBody]:
    """All bodies that are there at the end, in the order of their steps."""
    names = {step.id: step.name for step in document.steps}
    return [NamedBody(b.step, names[b.step], b.key, b.result) for b in standing(document, built)]


def export(document: Document, built: Iterable[StepBuilt], file_format: FileFormat, tolerance: float) -> bytes:
    """The file with all bodies of the design. tolerance: chord height of meshes, mm.

    Raises NothingToExport without a body, KernelError when STEP is asked for and a body is no valid solid.
    """
    found = bodies(document, built)
    if not found:
        raise NothingToExport("there is no body to hand over yet: shape one first, or settle what keeps it from building")
    if file_format is FileFormat.STEP:
        from wander.core.solids.named import shape_of
        from wander.core.solids.step_file import write_step

        return write_step([(item.name, shape_of(item.body)) for item in found])
    from wander.core.solids.meshing import finer_mesh

    mesh = merged([finer_mesh(item.body, tolerance) for item in found])
    return write_stl(mesh) if file_format is FileFormat.STL else write_glb(mesh, document.name, lines=False)
