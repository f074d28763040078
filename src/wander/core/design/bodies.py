"""The bodies of a built design and the files they can be handed over as."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from wander.core.bodies.body import Body
from wander.core.design.finishes import finish_of
from wander.core.design.rebuild import StepBuilt
from wander.core.design.standing import standing
from wander.core.document.document import Document, Finish
from wander.core.document.materials import MATERIALS
from wander.core.exchange.formats import FileFormat
from wander.core.exchange.glb import Look, Piece, write_glb_of
from wander.core.exchange.obj import Thing, of_triangles, write_obj
from wander.core.exchange.stl import write_stl
from wander.core.shaping.density import Density
from wander.core.shaping.display import merged
from wander.core.shaping.quads import QuadMesh, quads


@dataclass(frozen=True)
class NamedBody:
    """step: id of the step that made it last. name: as the designer calls the step that it began as, whatever was done to it since.

    key: of the result. finish: how it looks, what it is made of.
    """

    step: str
    name: str
    key: str
    body: Body
    finish: Finish | None = None


class NothingToExport(ValueError):
    """The design has no body that is ready."""


def bodies(document: Document, built: Iterable[StepBuilt]) -> list[NamedBody]:
    """All bodies that are there at the end, in the order of their steps."""
    known = list(built)
    steps = {step.id: step for step in document.steps}
    changes = {step.step: step.changes for step in known}

    def begun(step: str) -> str:
        changed = changes.get(step, ())
        return begun(changed[0]) if changed else step

    return [NamedBody(b.step, steps[begun(b.step)].name, b.key, b.result, finish_of(b.step, steps, changes)) for b in standing(document, known)]


def export(document: Document, built: Iterable[StepBuilt], file_format: FileFormat, density: Density) -> bytes:
    """The file with all bodies of the design. density: of meshes; only OBJ has lines that are counted.

    Raises NothingToExport without a body, KernelError when STEP is asked for and a body is no valid solid.
    """
    found = bodies(document, built)
    if not found:
        raise NothingToExport("there is no body to hand over yet: shape one first, or settle what keeps it from building")
    if file_format is FileFormat.STEP:
        from wander.core.solids.named import shape_of
        from wander.core.solids.step_file import Part, write_step

        parts = [Part(item.name, shape_of(item.body), _colour(item.finish)) for item in found]
        return write_step(parts, title=document.name)
    from wander.core.solids.meshing import finer_mesh

    if file_format is FileFormat.OBJ:
        return write_obj([Thing(item.name, _polygons(item.body, density)) for item in found])
    meshes = [finer_mesh(item.body, density.tolerance) for item in found]
    if file_format is FileFormat.STL:
        return write_stl(merged(meshes))
    return write_glb_of([Piece(mesh, item.name, _look(item.finish)) for mesh, item in zip(meshes, found, strict=True)])


def _polygons(body: Body, density: Density) -> list[QuadMesh]:
    """Own faces are grids, of four-sided facets; what the kernel cut comes as its triangles."""
    from wander.core.solids.meshing import finer_mesh

    found = [quads(skin, density) for skin in body.skins]
    if body.exact or body.rough:
        found.append(of_triangles(finer_mesh(replace(body, skins=()), density.tolerance), density.tolerance))
    return found


def _colour(finish: Finish | None) -> tuple[float, float, float] | None:
    """Red, green and blue from 0 to 1: its own, or that of its material."""
    if finish is None:
        return None
    colour = finish.colour or next((m.colour for m in MATERIALS if m.name == finish.material), None)
    if colour is None:
        return None
    red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return red, green, blue


def _look(finish: Finish | None) -> Look:
    return Look() if finish is None else Look(_colour(finish) or Look().colour, 1.0 - 0.8 * finish.gloss)
