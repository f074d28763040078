"""STEP (ISO 10303-21) files of solids."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Message import Message, Message_Printer
from OCP.STEPConstruct import STEPConstruct
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Reader, STEPControl_Writer
from OCP.TCollection import TCollection_HAsciiString
from OCP.TopoDS import TopoDS_Solid

from wander.core.solids.assemble import faces_of
from wander.core.solids.errors import KernelError
from wander.core.solids.named import NamedShape, solids_of


def write_step(bodies: Sequence[tuple[str, NamedShape]]) -> bytes:
    """The file with the given bodies, in millimetres. Names of bodies become product names, faces keep theirs. Raises KernelError."""
    Message.DefaultMessenger_s().RemovePrinters(Message_Printer.get_type_descriptor_s())  # it talks to standard output
    writer = STEPControl_Writer()
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    for name, body in bodies:
        Interface_Static.SetCVal_s("write.step.product.name", _plain(name))
        for solid in body.solids:
            if writer.Transfer(solid, STEPControl_AsIs) != IFSelect_RetDone:
                raise KernelError(f"the kernel could not put {name} into a STEP file")
        process = writer.WS().TransferWriter().FinderProcess()
        for face, own in zip(faces_of(body.shape), body.names, strict=True):
            entity = STEPConstruct.FindEntity_s(process, face)
            if entity is not None:
                entity.SetName(TCollection_HAsciiString(_plain(own)))
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
    return list(solids_of(reader.OneShape()))


def _plain(name: str) -> str:
    """STEP strings are seven-bit."""
    return name.encode("ascii", "replace").decode()
