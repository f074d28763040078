"""STEP (ISO 10303-21) files of solids and sheets, with their names and colours."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Message import Message, Message_Printer
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPConstruct import STEPConstruct
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Reader
from OCP.TCollection import TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopoDS import TopoDS_Shape, TopoDS_Shell, TopoDS_Solid
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from wander.core.solids.assemble import faces_of
from wander.core.solids.errors import KernelError
from wander.core.solids.named import NamedShape, sheets_of, solids_of


@dataclass(frozen=True)
class Part:
    """A body as it is handed over. name: as the designer calls it. colour: red, green and blue from 0 to 1 (sRGB); None: whoever reads it chooses."""

    name: str
    shape: NamedShape
    colour: tuple[float, float, float] | None = None


def write_step(parts: Sequence[Part], *, title: str = "") -> bytes:
    """The file with the given bodies, in millimetres. Names of bodies become product names, faces keep theirs.

    title: what the file says that it holds. Raises KernelError.
    """
    keep_quiet()
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    document = TDocStd_Document(TCollection_ExtendedString("parts"))
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    for part in parts:
        pieces = [*part.shape.solids, *part.shape.shells]
        # a compound of one would be a product that holds a product
        label = shapes.AddShape(pieces[0] if len(pieces) == 1 else part.shape.shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(part.name, True))
        if part.colour is not None:
            colours.SetColor(label, Quantity_Color(*part.colour, Quantity_TOC_sRGB), XCAFDoc_ColorSurf)
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    if not writer.Transfer(document, STEPControl_AsIs):
        raise KernelError("the kernel could not put the bodies into a STEP file")
    own = writer.ChangeWriter()
    process = own.WS().TransferWriter().FinderProcess()
    for part in parts:
        for face, name in zip(faces_of(part.shape.shape), part.shape.names, strict=True):
            entity = STEPConstruct.FindEntity_s(process, face)
            if entity is not None:
                entity.SetName(TCollection_HAsciiString(name))
    header = APIHeaderSection_MakeHeader(own.Model())
    header.SetName(TCollection_HAsciiString(title))
    header.SetAuthorValue(1, TCollection_HAsciiString(""))
    header.SetOrganizationValue(1, TCollection_HAsciiString(""))
    header.SetOriginatingSystem(TCollection_HAsciiString("Wander"))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "body.step"
        if writer.Write(str(path)) != IFSelect_RetDone:
            raise KernelError("the kernel could not write the STEP file")
        return _seven_bit(path.read_text(encoding="utf-8")).encode("ascii")


def read_step(path: Path) -> list[TopoDS_Solid]:
    """All solids of a file, in millimetres. Raises KernelError when it is not a STEP file."""
    return list(solids_of(_read(path)))


def read_sheets(path: Path) -> list[TopoDS_Shell]:
    """All sheets of a file, in millimetres. Raises KernelError when it is not a STEP file."""
    return list(sheets_of(_read(path)))


def _read(path: Path) -> TopoDS_Shape:
    reader = STEPControl_Reader()
    if reader.ReadFile(str(path)) != IFSelect_RetDone:
        raise KernelError(f"{path.name} is not a readable STEP file")
    reader.TransferRoots()
    return reader.OneShape()


def keep_quiet() -> None:
    """The kernel talks to standard output."""
    Message.DefaultMessenger_s().RemovePrinters(Message_Printer.get_type_descriptor_s())


def _seven_bit(text: str) -> str:
    r"""Letters beyond ASCII as ISO 10303-21, 6.4.3.3 writes them: \X2\ with four digits each, \X4\ with eight.

    The kernel leaves them as they are, which older readers refuse.
    """

    def coded(run: re.Match[str]) -> str:
        letters = run.group()
        if all(ord(letter) < 0x10000 for letter in letters):
            return f"\\X2\\{letters.encode('utf-16-be').hex().upper()}\\X0\\"
        return f"\\X4\\{letters.encode('utf-32-be').hex().upper()}\\X0\\"

    return re.sub(r"[^\x00-\x7f]+", coded, text)
