"""STEP files as other programs write them, made by the kernel alone."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from math import pi
from pathlib import Path

from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakeSphere, BRepPrimAPI_MakeTorus
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

BOX, PIN, BALL, RING = 10.0 * 20 * 30, pi * 5**2 * 40, 4 / 3 * pi * 7**3, 2 * pi**2 * 20 * 4**2


def box(*size: float) -> TopoDS_Shape:
    return BRepPrimAPI_MakeBox(*size).Shape()


def ball(radius: float = 7.0) -> TopoDS_Shape:
    return BRepPrimAPI_MakeSphere(radius).Shape()


def ring() -> TopoDS_Shape:
    return BRepPrimAPI_MakeTorus(20.0, 4.0).Shape()


def step_of(shapes: Sequence[TopoDS_Shape], *, unit: str = "MM") -> bytes:
    """Shapes without names or colours."""
    Interface_Static.SetCVal_s("write.step.unit", unit)
    writer = STEPControl_Writer()
    for shape in shapes:
        writer.Transfer(shape, STEPControl_AsIs)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shapes.step"
        writer.Write(str(path))
        return path.read_bytes()


def assembly(unit: str = "INCH") -> bytes:
    """A block, a pin used twice, a ball and a ring, 100 mm from each other along x; two of them coloured. The file counts in inches."""
    document = TDocStd_Document(TCollection_ExtendedString("whole"))
    shapes, colours = XCAFDoc_DocumentTool.ShapeTool_s(document.Main()), XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    root = shapes.NewShape()
    TDataStd_Name.Set_s(root, TCollection_ExtendedString("Whole"))
    parts = [
        (box(10.0, 20.0, 30.0), "Block", (1.0, 0.0, 0.0)),
        (BRepPrimAPI_MakeCylinder(5.0, 40.0).Shape(), "Pin", None),
        (ball(), "Ball", (0.0, 0.5, 1.0)),
        (ring(), "Ring", None),
    ]
    for number, (shape, name, colour) in enumerate(parts):
        label = shapes.AddShape(shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name))
        if colour is not None:
            colours.SetColor(label, Quantity_Color(*colour, Quantity_TOC_sRGB), XCAFDoc_ColorSurf)
        places = [gp_Trsf()]
        places[0].SetTranslation(gp_Vec(100.0 * number, 0.0, 0.0))
        if name == "Pin":
            lying = gp_Trsf()
            lying.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), -pi / 2)
            lying.SetTranslationPart(gp_Vec(100.0, 60.0, 0.0))
            places.append(lying)
        for place in places:
            shapes.AddComponent(root, label, TopLoc_Location(place))
    shapes.UpdateAssemblies()
    Interface_Static.SetCVal_s("write.step.unit", unit)
    writer = STEPCAFControl_Writer()
    writer.SetColorMode(True)
    writer.SetNameMode(True)
    writer.Transfer(document, STEPControl_AsIs)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "whole.step"
        writer.Write(str(path))
        return path.read_bytes()
