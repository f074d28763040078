"""STEP (ISO 10303-21) files of solids."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Message import Message, Message_Printer
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Reader, STEPControl_Writer
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Solid

from wander.core.solids.errors import KernelError


def write_step(solids: Sequence[tuple[str, TopoDS_Solid]]) -> bytes:
    """The file with the given solids, in millimetres. Names of bodies become product names. Raises KernelError."""
    Message.DefaultMessenger_s().RemovePrinters(Message_Printer.get_type_descriptor_s())  # it talks to standard output
    writer = STEPControl_Writer()
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    for name, solid in solids:
        Interface_Static.SetCVal_s("write.step.product.name", _plain(name))
        if writer.Transfer(solid, STEPControl_AsIs) != IFSelect_RetDone:
            raise KernelError(f"the kernel could not put {name} into a STEP file")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "body.step"
        if writer.Write(str(path)) != IFSelect_RetDone:
            raise KernelError("the kernel could not write the STEP file")
        return path.read_bytes()


def read_step(path: Path) -> list[TopoDS_Solid]:
    """All solids of a file, in millimetres. Raises KernelError when it is not a STEP file."""
    reader = STEPControl_Reader()
    if reader.ReadFile(str(path)) != IFSelect_RetDone:
        raise KernelError(f"{path.name} is not a readable STEP file")
    reader.TransferRoots()
    explorer = TopExp_Explorer(reader.OneShape(), TopAbs_SOLID)
    found = []
    while explorer.More():
        found.append(TopoDS.Solid(explorer.Current()))
        explorer.Next()
    return found


def _plain(name: str) -> str:
    """STEP strings are seven-bit."""
    return name.encode("ascii", "replace").decode()
