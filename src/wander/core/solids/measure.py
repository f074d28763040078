"""What the kernel itself says of a body: the second opinion to `shaping.mass`."""

from __future__ import annotations

from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS_Shape


def kernel_volume(shape: TopoDS_Shape, relative_error: float = 1e-7) -> float:
    """Volume in mm3 by the kernel's adaptive Gauss integration over its own faces. (Its Gauss-Kronrod one never ends on some leaning sides.)"""
    properties = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, properties, relative_error)
    return properties.Mass()


def kernel_area(shape: TopoDS_Shape) -> float:
    """Area in mm2."""
    properties = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, properties, 1e-7)
    return properties.Mass()


def kernel_center(shape: TopoDS_Shape) -> tuple[float, float, float]:
    """Centre of mass in mm."""
    properties = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, properties, 1e-8)
    center = properties.CentreOfMass()
    return center.X(), center.Y(), center.Z()
