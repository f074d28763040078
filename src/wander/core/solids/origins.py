"""Where the faces of a shape come from, gathered from what the kernel says became of those of its inputs."""

from __future__ import annotations

from collections.abc import Iterable

from OCP.TopoDS import TopoDS, TopoDS_Face, TopoDS_Shape

from wander.core.bodies.body import Face
from wander.core.solids.assemble import faces_of
from wander.core.solids.errors import KernelError
from wander.core.solids.faces import face_from
from wander.core.solids.readback import Origin
from wander.core.solids.topology import edges_of


def marks_of(shape: TopoDS_Shape, images: Iterable[tuple[Iterable[TopoDS_Shape], str]]) -> dict[int, str]:
    """What tells edges of a shape apart from others between the same faces, by their place among its edges: images of an edge, and its mark."""
    result = edges_of(shape)
    found: dict[int, str] = {}
    for each, mark in images:
        for image in each:
            found |= {number: mark for number, there in enumerate(result) if number not in found and there.IsSame(image)}
    return found


class Origins:
    """Of the faces of a shape, in the order of `faces_of`; what was told first holds.

    as_read: the same faces in the same order where they are read from another shape than the kernel's history speaks of.
    """

    def __init__(self, shape: TopoDS_Shape, as_read: TopoDS_Shape | None = None) -> None:
        self._shapes = list(faces_of(shape))
        self._read: list[TopoDS_Face] = self._shapes if as_read is None else list(faces_of(as_read))
        self._found: list[Origin | None] = [None] * len(self._shapes)

    def kept(self, images: Iterable[TopoDS_Shape], name: str, face: Face) -> None:
        """The images are parts of a face that is known."""
        for number in self._untold(images):
            self._found[number] = Origin(name, face)

    def made(self, images: Iterable[TopoDS_Shape], name: str) -> None:
        """The images are faces that the kernel made anew."""
        for number in self._untold(images):
            self._found[number] = self._new(number, name)

    def all(self, otherwise: str | None = None) -> list[Origin]:
        """otherwise: what faces are called of which nothing was told. Raises KernelError for such a face where there is no word for it."""
        if otherwise is None and None in self._found:
            raise KernelError("the kernel made a face that comes from none of the bodies")
        return [origin or self._new(number, str(otherwise)) for number, origin in enumerate(self._found)]

    def _untold(self, images: Iterable[TopoDS_Shape]) -> list[int]:
        return [number for image in images for number, there in enumerate(self._shapes) if self._found[number] is None and there.IsSame(image)]

    def _new(self, number: int, name: str) -> Origin:
        return Origin(name, face_from(TopoDS.Face(self._read[number]), name))
