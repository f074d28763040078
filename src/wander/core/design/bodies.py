"""The bodies of a built design and the files they can be handed over as."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document
from wander.core.exchange.glb import write_glb
from wander.core.exchange.stl import write_stl
from wander.core.shaping.display import DisplayMesh, display_mesh
from wander.core.steps.body import Body


class FileFormat(Enum):
    """What a design can be handed over as."""

    STEP = "step"
    STL = "stl"
    GLB = "glb"


MEDIA_TYPES = {FileFormat.STEP: "model/step", FileFormat.STL: "model/stl", FileFormat.GLB: "model/gltf-binary"}


@dataclass(frozen=True)
class NamedBody:
    """step: id of the step that made it. name: as the designer calls it. key: of the result."""

    step: str
    name: str
    key: str
    body: Body


class NothingToExport(ValueError):
    """The design has no body that is ready."""


def bodies(document: Document, built: Sequence[StepBuilt]) -> list[NamedBody]:
    """All bodies that are ready, in the order of their steps."""
    names = {step.id: step.name for step in document.steps}
    return [NamedBody(b.step, names[b.step], b.key, b.result) for b in built if b.state is State.READY and isinstance(b.result, Body)]


def export(document: Document, built: Sequence[StepBuilt], file_format: FileFormat, tolerance: float) -> bytes:
    """The file with all bodies of the design. tolerance: chord height of meshes, mm.

    Raises NothingToExport without a body, KernelError when STEP is asked for and a body is no valid solid.
    """
    found = bodies(document, built)
    if not found:
        raise NothingToExport("there is no body to hand over yet: shape one first, or settle what keeps it from building")
    if file_format is FileFormat.STEP:
        from wander.core.design.exact import exact_body
        from wander.core.solids.step_file import write_step

        return write_step([(item.name, exact_body(item.body.shell).shape) for item in found])
    mesh = merged([display_mesh(item.body.shell, tolerance) for item in found])
    return write_stl(mesh) if file_format is FileFormat.STL else write_glb(mesh, document.name, lines=False)


def merged(meshes: Sequence[DisplayMesh]) -> DisplayMesh:
    """Several meshes as one, numbers shifted so that names stay with their faces and lines."""
    if len(meshes) == 1:
        return meshes[0]
    vertices = np.cumsum([0, *(len(m.positions) for m in meshes)]).astype(np.uint32)
    faces = np.cumsum([0, *(len(m.face_names) for m in meshes)]).astype(np.uint32)
    line_vertices = np.cumsum([0, *(len(m.line_positions) for m in meshes)]).astype(np.uint32)
    lines = np.cumsum([0, *(len(m.line_names) for m in meshes)]).astype(np.uint32)
    return DisplayMesh(
        positions=np.concatenate([m.positions for m in meshes]),
        normals=np.concatenate([m.normals for m in meshes]),
        triangles=np.concatenate([m.triangles + o for m, o in zip(meshes, vertices, strict=False)]),
        face_of=np.concatenate([m.face_of + o for m, o in zip(meshes, faces, strict=False)]),
        face_names=tuple(name for m in meshes for name in m.face_names),
        line_positions=np.concatenate([m.line_positions for m in meshes]),
        lines=np.concatenate([m.lines + o for m, o in zip(meshes, line_vertices, strict=False)]),
        line_of=np.concatenate([m.line_of + o for m, o in zip(meshes, lines, strict=False)]),
        line_names=tuple(name for m in meshes for name in m.line_names),
    )
