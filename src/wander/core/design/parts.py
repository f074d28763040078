"""Bodies from files into a design: the steps that bring them in."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import Enum
from pathlib import PurePath

from wander.core.bodies.brought import NotInFile, Piece
from wander.core.document.document import Finish, Step
from wander.core.document.edits import AddStep, Edit, SetFinish, SetParam

SINGLY = 24
"""Bodies of one file that become steps of their own; of more all become one."""
FROM_FILES = ("part", "reference")
"""Kinds of steps that have a file."""
STEP_FILES, STL_FILES = ("step", "stp"), ("stl",)


class Use(Enum):
    """To be worked on, or only to be looked at."""

    WORK = "work"
    REFERENCE = "reference"


@dataclass(frozen=True)
class PartFound:
    """What a file holds. format: 'step' or 'stl'."""

    format: str
    pieces: Sequence[Piece]


def read_part(data: bytes, file_name: str) -> PartFound:
    """What is in a file; the ending of its name says its format. Raises NotInFile."""
    ending = PurePath(file_name).suffix.lower().lstrip(".")
    if not data:
        raise NotInFile("the file is empty")
    if ending in STL_FILES:
        from wander.core.exchange.stl_in import reference_from

        reference_from(data, 1.0, "mesh")
        return PartFound("stl", [Piece("", None)])
    if ending not in STEP_FILES:
        raise NotInFile(f"files ending in “.{ending}” are not read here; .step, .stp and .stl are")
    if not data[:2048].lstrip().startswith(b"ISO-10303-21"):
        raise NotInFile("it is no STEP file: its first line is not the one that they begin with")
    from wander.core.solids.brought import found_in
    from wander.core.solids.errors import KernelError

    try:
        return PartFound("step", [one.piece for one in found_in(data)])
    except KernelError as error:
        raise NotInFile(str(error)) from error


def part_edits(found: PartFound, key: str, use: Use, file_name: str, taken: Iterable[str]) -> list[Edit]:
    """The steps for what is in a file, called as it calls them and in its colours. taken: names that steps have already."""
    known = set(taken)
    title = _word(PurePath(file_name).stem) or "Part"
    if use is Use.REFERENCE or found.format == "stl":
        as_read = {"file": key, "format": found.format}
        return [AddStep.model_validate({"do": "add-step", "kind": "reference", "name": _unlike(title, known), "params": as_read})]
    singly = len(found.pieces) <= SINGLY
    edits: list[Edit] = []
    for number, piece in enumerate(found.pieces if singly else [Piece(title, None)]):
        alias = f"$part{number}"
        name = _unlike(_word(piece.name) or title, known)
        params: dict[str, str | int] = {"file": key, **({"number": number} if singly and len(found.pieces) > 1 else {})}
        edits.append(AddStep.model_validate({"do": "add-step", "kind": "part", "name": name, "params": params, "alias": alias}))
        if piece.colour is not None:
            edits.append(SetFinish(do="set-finish", step=alias, finish=Finish(colour=piece.colour)))
    return edits


def part_instead(found: PartFound, key: str, step: Step) -> list[Edit]:
    """Another file for a step that stands, where it stands: of several bodies the one that is called as the step is, else that of the same number,
    else all of them as one. Raises NotInFile for a mesh that is to be worked on, and for a step that comes from no file.
    """
    if step.kind not in FROM_FILES:
        raise NotInFile(f"{step.name} did not come from a file; pick a part or a body to look at, or bring this one in beside it")
    if step.kind == "reference":
        return [_set(step, "file", key), _set(step, "format", found.format)]
    if found.format == "stl":
        raise NotInFile("a mesh can only be looked at; what is worked on comes from a STEP file")
    called = [number for number, piece in enumerate(found.pieces) if _word(piece.name) == step.name]
    number = called[0] if called else step.params.get("number")
    if len(found.pieces) == 1 or number is None or int(number) >= len(found.pieces):
        number = None
    return [_set(step, "file", key), _set(step, "number", number)]


def _set(step: Step, name: str, value: str | int | None) -> Edit:
    return SetParam(do="set-param", step=step.id, path=[name], value=value)


def _word(name: str) -> str:
    """A name as it can stand on screen: no signs that can't be seen, not too long."""
    return " ".join(re.sub(r"[^\w .,()+-]", " ", name.replace("_", " ")).split())[:60].strip()


def _unlike(name: str, known: set[str]) -> str:
    found, number = name, 2
    while found in known:
        found, number = f"{name} {number}", number + 1
    known.add(found)
    return found
