"""The formats that a design can be handed over in."""

from __future__ import annotations

from enum import Enum


class FileFormat(Enum):
    """What a design can be handed over as."""

    STEP = "step"
    STL = "stl"
    GLB = "glb"
    OBJ = "obj"


MEDIA_TYPES = {FileFormat.STEP: "model/step", FileFormat.STL: "model/stl", FileFormat.GLB: "model/gltf-binary", FileFormat.OBJ: "model/obj"}
