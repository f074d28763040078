"""Bodies from STEP files, with their names and colours, and as bodies of ours."""

from __future__ import annotations

import hashlib
import tempfile
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy, BRepBuilderAPI_Sewing
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.collections import Sequence_TDF_Label
from OCP.IFSelect import IFSelect_RetDone
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.ShapeFix import ShapeFix_Shape, ShapeFix_Solid
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.StepRepr import StepRepr_RepresentationItem
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Face, TopoDS_Shape
from OCP.XCAFDoc import XCAFDoc_ColorGen, XCAFDoc_ColorSurf, XCAFDoc_ColorTool, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from wander.core.bodies.body import Body
from wander.core.bodies.brought import NotInFile, Piece
from wander.core.solids.assemble import faces_of, shells_of
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import compound, sheets_of, solids_of
from wander.core.solids.origins import Origins
from wander.core.solids.readback import body_from
from wander.core.solids.step_file import keep_quiet

SEWN = 1e-3
"""mm between edges of loose faces that are taken for one: what most programs write their files to."""
FACES = 20_000
"""A file with more faces is not opened: none of it would be quick enough to work with."""
_DEEP = 32
"""Assemblies within each other."""


@dataclass(frozen=True)
class Found:
    """A body of a file. names: what the file calls its faces, in the order of `faces_of`; empty where it says nothing."""

    piece: Piece
    shape: TopoDS_Shape
    names: tuple[str, ...]


@lru_cache(maxsize=2)
def found_in(data: bytes) -> tuple[Found, ...]:
    """The bodies of a STEP file, in millimetres and in their places, each that has a name or a colour of its own. Raises KernelError, NotInFile."""
    keep_quiet()
    document = TDocStd_Document(TCollection_ExtendedString("parts"))
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        path.write_bytes(data)
        if reader.ReadFile(str(path)) != IFSelect_RetDone or not reader.Transfer(document):
            raise KernelError("the file can't be read as STEP")
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    labels = Sequence_TDF_Label()
    shapes.GetFreeShapes(labels)
    leaves = [leaf for label in _each(labels) for leaf in _leaves(label, TopLoc_Location(), "", 0)]
    found = [_found(label, place, name, colours, reader) for label, place, name in leaves]
    kept = tuple(one for one in found if one.names)
    if not kept:
        raise NotInFile("there is no face in it: only points or lines, or nothing at all")
    if sum(len(one.names) for one in kept) > FACES:
        raise NotInFile(f"it has {sum(len(one.names) for one in kept)} faces, and {FACES} are the most that can be worked with")
    return kept


def _each(labels: Sequence_TDF_Label) -> Iterator[TDF_Label]:
    return (labels.Value(i) for i in range(1, labels.Length() + 1))


def _leaves(label: TDF_Label, place: TopLoc_Location, name: str, depth: int) -> Iterator[tuple[TDF_Label, TopLoc_Location, str]]:
    """What is no assembly, with its place in the whole and what it is called: the place where it is used has the word before the thing itself."""
    if depth > _DEEP:
        raise NotInFile(f"assemblies lie in assemblies more than {_DEEP} deep")
    own = _name(label) or name
    if XCAFDoc_ShapeTool.IsReference_s(label):
        meant = TDF_Label()
        XCAFDoc_ShapeTool.GetReferredShape_s(label, meant)
        yield from _leaves(meant, place.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(label)), _name(meant) or own, depth + 1)
    elif XCAFDoc_ShapeTool.IsAssembly_s(label):
        parts = Sequence_TDF_Label()
        XCAFDoc_ShapeTool.GetComponents_s(label, parts)
        for part in _each(parts):
            yield from _leaves(part, place, own, depth + 1)
    else:
        yield label, place, own


def _name(label: TDF_Label) -> str:
    held = TDataStd_Name()
    name = str(held.Get().ToExtString()) if label.FindAttribute(TDataStd_Name.GetID_s(), held) else ""
    # what writers put there where nobody gave a name
    return "" if "STEP translator" in name else name


def _found(label: TDF_Label, place: TopLoc_Location, name: str, colours: XCAFDoc_ColorTool, reader: STEPCAFControl_Reader) -> Found:
    shape = XCAFDoc_ShapeTool.GetShape_s(label)
    names = tuple(_face_name(face, reader) for face in faces_of(shape))
    return Found(Piece(" ".join(name.split())[:80], _colour(shape, label, colours)), shape.Moved(place), names)


def _face_name(face: TopoDS_Face, reader: STEPCAFControl_Reader) -> str:
    entity = reader.Reader().WS().TransferReader().EntityFromShapeResult(face, 1)
    name = entity.Name() if isinstance(entity, StepRepr_RepresentationItem) else None
    return "" if name is None else str(name.ToCString())


def _colour(shape: TopoDS_Shape, label: TDF_Label, colours: XCAFDoc_ColorTool) -> str | None:
    """That of the body, or the one that most of its faces have, as #rrggbb."""
    held = Quantity_Color()
    for kind in (XCAFDoc_ColorSurf, XCAFDoc_ColorGen):
        if XCAFDoc_ColorTool.GetColor_s(label, kind, held):
            return _hex(held)
    for part in (*solids_of(shape), *sheets_of(shape)):
        if any(colours.GetColor(part, kind, held) for kind in (XCAFDoc_ColorSurf, XCAFDoc_ColorGen)):
            return _hex(held)
    counted = Counter(_hex(held) for face in faces_of(shape) if colours.GetColor(face, XCAFDoc_ColorSurf, held))
    return counted.most_common(1)[0][0] if counted else None


def _hex(colour: Quantity_Color) -> str:
    red, green, blue = (round(255 * min(max(each, 0.0), 1.0)) for each in colour.Values(Quantity_TOC_sRGB))
    return f"#{red:02x}{green:02x}{blue:02x}"


def brought_in(data: bytes, number: int | None, maker: str) -> Body:
    """One body of a file, or all of them as one, in the places that they have there. Its faces are called as the file calls them, else counted.

    A count stands for a face of this file only: after it what the file is told by, so that nothing that was said of one file is taken for another.
    Raises KernelError, NotInFile.
    """
    found = found_in(data)
    if number is not None and number >= len(found):
        raise NotInFile(f"it holds {len(found)} {'body' if len(found) == 1 else 'bodies'}, and this was to be number {number + 1}")
    wanted = found if number is None else found[number : number + 1]
    names = [name for one in wanted for name in one.names]
    told = hashlib.sha256(data).hexdigest()[:6]
    counted = Counter(names)
    words = [name if _own(name) and counted[name] == 1 else f"{k}.{told}" for k, name in enumerate(names, start=1)]
    called = [f"{maker}/face:{word}" for word in words]
    shape = BRepBuilderAPI_Copy(compound([one.shape for one in wanted])).Shape()
    sound, images = _sound(shape)
    origins = Origins(sound)
    for image, name in zip(images, called, strict=True):
        origins.made(image, name)
    return body_from(sound, origins.all(f"{maker}/mended"), {}, None)


def _own(name: str) -> bool:
    """Whether a name can stand in ours: nothing that we tell names apart by is in it."""
    return 0 < len(name) <= 60 and name.upper() != "NONE" and not set(name) & set("/|@~^+#&=()?:.") and name.strip() == name


def _sound(shape: TopoDS_Shape) -> tuple[TopoDS_Shape, list[list[TopoDS_Shape]]]:
    """Solids where it closes to some, sheets otherwise; and what became of each of its faces, in their order. Raises KernelError."""
    before = list(faces_of(shape))
    solids, sheets = list(solids_of(shape)), list(sheets_of(shape))
    held = {n for n, face in enumerate(before) for part in (*solids, *sheets) for own in faces_of(part) if own.IsSame(face)}
    if len(held) == len(before) and not sheets:
        made, images = compound([_outwards(solid) for solid in solids]), [[face] for face in before]
    else:
        made, images = _closed(before)
    if BRepCheck_Analyzer(made).IsValid():
        return made, images
    mending = ShapeFix_Shape(made)
    mending.Perform()
    mended = mending.Shape()
    if not BRepCheck_Analyzer(mended).IsValid():
        raise KernelError("its faces do not fit together, and could not be mended")
    context = mending.Context()
    return mended, [[context.Apply(image) for image in each] for each in images]


def _closed(faces: Sequence[TopoDS_Face]) -> tuple[TopoDS_Shape, list[list[TopoDS_Shape]]]:
    """Faces sewn together: to solids where they all close."""
    sewing = BRepBuilderAPI_Sewing(SEWN)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    shells = shells_of(sewing.SewedShape())
    images = [[sewing.Modified(face) if sewing.IsModified(face) else face] for face in faces]
    if not shells:
        raise KernelError("nothing of it could be sewn together")
    solids = [solid for shell in shells if shell.Closed() for solid in solids_of(ShapeFix_Solid().SolidFromShell(shell))]
    return compound([_outwards(solid) for solid in solids] if len(solids) == len(shells) else shells), images


def _outwards(solid: TopoDS_Shape) -> TopoDS_Shape:
    """Turned so that it has an inside: a rough count tells."""
    return solid if kernel_volume(solid, 0.1) > 0 else solid.Reversed()
