"""GLB, the binary form of glTF 2.0 (ISO/IEC 12113), written by hand because the display needs it within a millisecond.

Lengths in the buffers are millimetres with z up; the node scales and turns them into the metres and y up that glTF asks for.
"""

from __future__ import annotations

import struct
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
import orjson

from wander.core.shaping.display import MOST_FLOW, DisplayMesh

FLOAT, UINT16, UINT32 = 5126, 5123, 5125
VERTICES, ELEMENTS = 34962, 34963
TRIANGLES, LINES = 4, 1
_TO_METRES_Y_UP = [0.001, 0, 0, 0, 0, 0, -0.001, 0, 0, 0.001, 0, 0, 0, 0, 0, 1]


class _Buffer:
    def __init__(self) -> None:
        self.parts: list[bytes] = []
        self.size = 0
        self.views: list[dict[str, Any]] = []
        self.accessors: list[dict[str, Any]] = []

    def add(self, array: npt.NDArray[Any], kind: str, target: int, *, bounds: bool = False, normalized: bool = False) -> int:
        data = np.ascontiguousarray(array)
        component = {"float32": FLOAT, "uint16": UINT16, "uint32": UINT32}[data.dtype.name]
        self.views.append({"buffer": 0, "byteOffset": self.size, "byteLength": data.nbytes, "target": target})
        accessor: dict[str, Any] = {
            "bufferView": len(self.views) - 1,
            "componentType": component,
            "count": len(data) if kind != "SCALAR" else data.size,
            "type": kind,
        }
        if normalized:
            accessor["normalized"] = True
        if bounds:
            accessor["min"], accessor["max"] = data.min(axis=0).tolist(), data.max(axis=0).tolist()
        self.accessors.append(accessor)
        padding = -data.nbytes % 4
        self.parts.append(data.tobytes() + b"\0" * padding)
        self.size += data.nbytes + padding
        return len(self.accessors) - 1


@dataclass(frozen=True)
class Look:
    """colour: red, green, blue as they are seen (sRGB), 0 to 1. roughness: 0 to 1."""

    colour: tuple[float, float, float] = (0.85, 0.81, 0.73)
    roughness: float = 0.6

    def material(self) -> dict[str, Any]:
        """Factors of glTF are linear: the curve of sRGB is taken off (IEC 61966-2-1)."""
        linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in self.colour]
        return {"pbrMetallicRoughness": {"baseColorFactor": [*linear, 1], "metallicFactor": 0, "roughnessFactor": self.roughness}}


@dataclass(frozen=True)
class Piece:
    """A body of a file, under its name."""

    mesh: DisplayMesh
    name: str
    look: Look = Look()


def write_glb(mesh: DisplayMesh, name: str, *, lines: bool = True) -> bytes:
    """One mesh: a triangle primitive with a face number for each vertex, and a line primitive with a line number for each.

    The names that the numbers stand for are in the extras of the primitives, and in those of the mesh whether it is a sheet. lines=False leaves the
    lines out, and the parameters of the faces, which are for flow lines: in sixteen bits, of which 1 is MOST_FLOW lines.
    """
    return write_glb_of([Piece(mesh, name)], lines=lines)


def write_glb_of(pieces: Sequence[Piece], *, lines: bool = False) -> bytes:
    """The same for several bodies, a node and a material for each."""
    buffer = _Buffer()
    meshes = [
        {"name": piece.name, "primitives": _primitives(piece.mesh, buffer, number, lines=lines), "extras": {"sheet": not piece.mesh.closed}}
        for number, piece in enumerate(pieces)
    ]
    header = {
        "asset": {"version": "2.0", "generator": "Wander"},
        "scene": 0,
        "scenes": [{"nodes": list(range(len(pieces)))}],
        "nodes": [{"mesh": number, "name": piece.name, "matrix": _TO_METRES_Y_UP} for number, piece in enumerate(pieces)],
        "meshes": meshes,
        "materials": [piece.look.material() for piece in pieces],
        "buffers": [{"byteLength": buffer.size}],
        "bufferViews": buffer.views,
        "accessors": buffer.accessors,
    }
    return _container(orjson.dumps(header), b"".join(buffer.parts))


def _primitives(mesh: DisplayMesh, buffer: _Buffer, material: int, *, lines: bool) -> list[dict[str, Any]]:
    primitives: list[dict[str, Any]] = [
        {
            "mode": TRIANGLES,
            "attributes": {
                "POSITION": buffer.add(mesh.positions.astype(np.float32), "VEC3", VERTICES, bounds=True),
                "NORMAL": buffer.add(_unit(mesh.normals), "VEC3", VERTICES),
                "_FACE": buffer.add(mesh.face_of.astype(np.float32), "SCALAR", VERTICES),
            },
            "indices": buffer.add(_indices(mesh.triangles, len(mesh.positions)), "SCALAR", ELEMENTS),
            "material": material,
            "extras": {"faces": list(mesh.face_names)},
        }
    ]
    if lines and mesh.flow is not None:
        flow = np.round(mesh.flow / MOST_FLOW * 65535).astype(np.uint16)
        primitives[0]["attributes"]["_FLOW"] = buffer.add(flow, "VEC2", VERTICES, normalized=True)
    if lines and len(mesh.lines):
        primitives.append(
            {
                "mode": LINES,
                "attributes": {
                    "POSITION": buffer.add(mesh.line_positions.astype(np.float32), "VEC3", VERTICES, bounds=True),
                    "_LINE": buffer.add(mesh.line_of.astype(np.float32), "SCALAR", VERTICES),
                },
                "indices": buffer.add(_indices(mesh.lines, len(mesh.line_positions)), "SCALAR", ELEMENTS),
                "material": material,
                "extras": {"lines": list(mesh.line_names)},
            }
        )
    return primitives


def _indices(numbers: npt.NDArray[np.uint32], vertices: int) -> npt.NDArray[Any]:
    """Half as long where they fit; the largest number of sixteen bits is not for use."""
    return numbers.ravel().astype(np.uint16 if vertices < 65535 else np.uint32)


def _unit(normals: npt.NDArray[np.float64]) -> npt.NDArray[np.float32]:
    """Single precision first, then length one: rounding alone can leave the tolerance of the format."""
    single = normals.astype(np.float32)
    size = np.linalg.norm(single, axis=1, keepdims=True)
    found: npt.NDArray[np.float32] = np.where(size > 0, single / np.where(size > 0, size, 1), np.array([0, 0, 1], np.float32)).astype(np.float32)
    return found


def _container(header: bytes, data: bytes) -> bytes:
    header += b" " * (-len(header) % 4)
    data += b"\0" * (-len(data) % 4)
    total = 12 + 8 + len(header) + 8 + len(data)
    return b"".join(
        [struct.pack("<4sII", b"glTF", 2, total), struct.pack("<I4s", len(header), b"JSON"), header, struct.pack("<I4s", len(data), b"BIN\0"), data]
    )
