"""A design opened from Python: in a notebook, a script or the command line, in a line each.

>>> import wander
>>> flask = wander.open("samples/tarn.json")
>>> flask["neck"] = "40 mm"
>>> round(flask.bodies["Flask"].volume / 1000)
57
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from wander.core.design.apply import apply_edits
from wander.core.design.attached import Attached
from wander.core.design.bodies import NamedBody, bodies, export
from wander.core.design.memory import Memory
from wander.core.design.migration import renaming_edits
from wander.core.design.reading import read_file, write_file
from wander.core.design.rebuild import StepBuilt, design_findings, rebuild
from wander.core.design.shelf import shared_results
from wander.core.document.document import Document, Finish
from wander.core.document.edits import Edit, SetDimension, SetParam
from wander.core.document.expressions import evaluate
from wander.core.document.findings import Finding, Severity
from wander.core.document.old_names import needs_renaming
from wander.core.exchange.formats import FileFormat
from wander.core.shaping.density import Density

FORMATS = {".step": FileFormat.STEP, ".stp": FileFormat.STEP, ".stl": FileFormat.STL, ".glb": FileFormat.GLB, ".obj": FileFormat.OBJ}


@dataclass(frozen=True)
class BodyReading:
    """A body that stands. volume mm3, area mm2, center, low and high corner of its box in mm. pieces: how many bodies lie apart in it.

    material: what it is made of, mass: g; inertia: about axes through its centre along x, y and z, g mm2. None where it was not
    chosen.
    """

    name: str
    step: str
    volume: float
    area: float
    center: tuple[float, float, float]
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    pieces: int
    faces: tuple[str, ...]
    material: str | None = None
    mass: float | None = None
    inertia: tuple[float, float, float] | None = None

    @classmethod
    def of(cls, item: NamedBody) -> BodyReading:
        m = item.body.measures
        center, low, high = ((float(a), float(b), float(c)) for a, b, c in (m.center, m.low, m.high))
        faces = tuple(face.name for face in item.body.faces)
        made_of = item.finish or Finish()
        mass = None if made_of.density is None else made_of.density * m.volume / 1e3
        inertia = None if made_of.density is None else tuple((made_of.density / 1e3 * m.moments).tolist())
        return cls(item.name, item.step, m.volume, m.area, center, low, high, m.pieces, faces, made_of.material, mass, inertia)


class Design:
    """A design and what it builds to, exactly. Every change gives a new state; results of earlier ones are remembered."""

    def __init__(self, document: Document, memory: Memory | None = None, attached: Attached | None = None) -> None:
        self._document = document
        self._attached = attached or Attached()
        self._memory = memory or Memory(shared_results(), files=self._attached.parts.get)

    @property
    def document(self) -> Document:
        """As it is written down; it never changes itself."""
        return self._document

    @property
    def name(self) -> str:
        return self._document.name

    def __getitem__(self, dimension: str) -> float:
        """What a named dimension comes to: mm, degrees or a count. Raises KeyError."""
        found = next((d for d in self._document.dimensions if d.name == dimension), None)
        if found is None:
            raise KeyError(dimension)
        return evaluate(found.value, found.kind, self._document.scope())

    def __setitem__(self, dimension: str, value: float | str) -> None:
        """Give a named dimension a number or an expression. Raises KeyError, EditRefused."""
        known = next((d for d in self._document.dimensions if d.name == dimension), None)
        if known is None:
            raise KeyError(dimension)
        self.edit(SetDimension(do="set-dimension", name=dimension, value=value, kind=known.kind))

    def set(self, step: str, *path: str | int, to: object) -> None:
        """Set one parameter of a step, by the id or the name of the step. Raises KeyError, EditRefused."""
        found = next((s for s in self._document.steps if step in (s.id, s.name)), None)
        if found is None:
            raise KeyError(step)
        self.edit(SetParam(do="set-param", step=found.id, path=list(path), value=to))

    def edit(self, *edits: Edit) -> None:
        """Make edits, all or none. Raises EditRefused."""
        self._document = apply_edits(self._document, edits)
        vars(self).pop("steps", None)

    @cached_property
    def steps(self) -> list[StepBuilt]:
        """Every step and how it stands, built with the kernel; what is known already is not computed again."""
        from wander.core.design.exact import exact_ways

        return list(rebuild(self._document, self._memory, exact_ways()))

    @property
    def findings(self) -> list[Finding]:
        """Everything worth pointing at."""
        return [*design_findings(self._document), *(finding for step in self.steps for finding in step.findings)]

    @property
    def builds(self) -> bool:
        """Whether nothing stops it."""
        return not any(finding.severity is Severity.ERROR for finding in self.findings)

    @property
    def standing(self) -> list[NamedBody]:
        """The bodies that are there at the end, with all that the core knows of them."""
        return bodies(self._document, self.steps)

    @property
    def bodies(self) -> Mapping[str, BodyReading]:
        """What can be measured of them, by name."""
        return {item.name: BodyReading.of(item) for item in self.standing}

    def __iter__(self) -> Iterator[BodyReading]:
        return iter(self.bodies.values())

    def export(
        self, path: str | Path, tolerance: float = 0.05, *, around: int | None = None, along: int | None = None, loops: Sequence[float] = ()
    ) -> Path:
        """Write all bodies to a file; its ending says the format. tolerance: chord height of meshes, mm.

        around, along: pieces of the polygons of an OBJ, where they are counted; loops: shares of the length at which a line goes round besides.
        Raises ValueError for an ending that is none, NothingToExport, KernelError.
        """
        target = Path(path)
        wanted = FORMATS.get(target.suffix.lower())
        if wanted is None:
            raise ValueError(f"{target.name}: expected a file that ends in .step, .stl, .glb or .obj")
        target.write_bytes(export(self._document, self.steps, wanted, Density(tolerance, around, along, tuple(loops))))
        return target

    def save(self, path: str | Path) -> Path:
        """Write the design in the open format, what was brought into it along with it. Raises TooLarge."""
        target = Path(path)
        target.write_bytes(write_file(self._document, self._attached))
        return target


def open_design(path: str | Path) -> Design:
    """A design from a file in the open format. Raises UnreadableDocument, OSError."""
    document, attached = read_file(Path(path).read_bytes())
    design = Design(document, attached=attached)
    if needs_renaming(design.document):
        design.edit(*renaming_edits(design.document, design._memory))
    return design
