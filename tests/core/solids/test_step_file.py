"""STEP files, read by a fresh kernel: solids, names in any script, colours; and seven-bit text that says who wrote it."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.collections import Sequence_TDF_Label
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from tests.closeness import assert_close
from tests.core.solids.test_assemble import MORE
from wander.core.bodies.body import of_shells
from wander.core.shaping.mass import mass_properties
from wander.core.solids.errors import KernelError
from wander.core.solids.named import NamedShape, shape_of
from wander.core.solids.step_file import Part, read_step, write_step


def shaped(name: str) -> NamedShape:
    return shape_of(of_shells((MORE[name].shell,)))


READER = """
import json, sys
from pathlib import Path
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.STEPControl import STEPControl_Reader
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
reader = STEPControl_Reader()
reader.ReadFile(sys.argv[1])
reader.TransferRoots()
shape = reader.OneShape()
explorer, solids = TopExp_Explorer(shape, TopAbs_SOLID), 0
while explorer.More():
    solids += 1
    explorer.Next()
g = GProp_GProps()
BRepGProp.VolumePropertiesGK_s(shape, g, 1e-8, True, True)
print("FOUND", json.dumps({"solids": solids, "valid": BRepCheck_Analyzer(shape).IsValid(), "volume": g.Mass()}))
"""


@pytest.mark.parametrize("name", ["flask", "prism", "round to slot", "two tips"])
def test_a_step_file_is_one_valid_solid_for_a_fresh_kernel(name: str, tmp_path: Path) -> None:
    shell = MORE[name].shell
    path = tmp_path / "body.step"
    path.write_bytes(write_step([Part("Körper", shaped(name))]))
    out = subprocess.run([sys.executable, "-c", READER, str(path)], capture_output=True, text=True, check=True).stdout
    found = json.loads(out.split("FOUND")[1])
    assert found["solids"] == 1
    assert found["valid"] is True
    expected = mass_properties(shell).volume
    assert_close(found["volume"], expected, within=1e-6 * expected)


def test_our_own_reader_gives_the_solids_back(tmp_path: Path) -> None:
    path = tmp_path / "two.step"
    path.write_bytes(write_step([Part(name, shaped(name)) for name in ("cone", "prism")]))
    assert len(read_step(path)) == 2
    path.write_bytes(b"no STEP file at all")
    with pytest.raises(KernelError, match="not a readable STEP file"):
        read_step(path)


def parts_of(data: bytes) -> list[tuple[str, tuple[float, float, float] | None]]:
    """Names and colours of the products of a file, as the kernel's own reader of documents finds them."""
    document = TDocStd_Document(TCollection_ExtendedString("read"))
    reader = STEPCAFControl_Reader()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "read.step"
        path.write_bytes(data)
        reader.ReadFile(str(path))
    reader.Transfer(document)
    labels = Sequence_TDF_Label()
    XCAFDoc_DocumentTool.ShapeTool_s(document.Main()).GetFreeShapes(labels)
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    found = []
    for i in range(1, labels.Length() + 1):
        label, name, colour = labels.Value(i), TDataStd_Name(), Quantity_Color()
        label.FindAttribute(TDataStd_Name.GetID_s(), name)
        told = colours.GetColor_s(label, XCAFDoc_ColorSurf, colour)
        found.append((name.Get().ToExtString(), tuple(colour.Values(Quantity_TOC_sRGB)) if told else None))
    return found


NAMES = st.text(st.characters(exclude_categories=["Cs", "Cc", "Zl", "Zp"]), min_size=1, max_size=12).map(str.strip).filter(bool)
"""Blanks at the ends of a name are not kept by who reads such files."""


@settings(max_examples=40, deadline=None)
@given(NAMES, NAMES)
def test_names_in_any_script_come_back_and_the_file_is_seven_bit(first: str, second: str) -> None:
    data = write_step([Part(first, shaped("cone")), Part(second, shaped("prism"))], title=first)
    assert data.isascii()
    assert [name for name, _ in parts_of(data)] == [first, second]


def test_letters_are_written_as_the_standard_says() -> None:
    """ISO 10303-21, 6.4.3.3: the example of its own kind, and one beyond the first plane."""
    text = write_step([Part("Fläsk 瓶", shaped("cone")), Part("🛶", shaped("cone"))]).decode()
    assert r"PRODUCT('Fl\X2\00E4\X0\sk \X2\74F6\X0\'" in text
    assert r"PRODUCT('\X4\0001F6F6\X0\'" in text


def test_colours_come_back_where_a_body_has_one() -> None:
    data = write_step([Part("Plain", shaped("cone")), Part("Red", shaped("prism"), (0.85, 0.32, 0.17))])
    (_, plain), (_, red) = parts_of(data)
    assert plain is None
    assert_close(np.array(red), np.array([0.85, 0.32, 0.17]), within=1e-6)


def test_the_file_says_what_it_holds_and_names_nobody_else() -> None:
    header = re.search(rb"HEADER;.*?ENDSEC;", write_step([Part("Cone", shaped("cone"))], title="Tarn"), re.DOTALL)
    assert header is not None
    told = header.group().decode()
    assert "FILE_NAME('Tarn'" in told
    assert "'Wander'" in told
    assert "Author" not in told
