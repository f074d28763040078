"""Routes for designs: the rack, edits, undo, files."""

from __future__ import annotations

import asyncio
import re
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response
from pydantic import Field, TypeAdapter

from wander.app.api.using import Using
from wander.app.api.wire import (
    Added,
    AreaOut,
    AsDrawn,
    BodyAt,
    CardOut,
    CutIn,
    DesignOut,
    Edits,
    FairIn,
    FairOut,
    NewDesign,
    NewVersion,
    Number,
    OnRevision,
    ReleaseIn,
    TellIn,
    TellOut,
    VersionOut,
    Worth,
)
from wander.app.engine.live import COMBS
from wander.core.design.bringing import DRAWING_TYPES, DrawingFormat
from wander.core.document.expressions import ExpressionError
from wander.core.document.findings import sentence
from wander.core.exchange.formats import MEDIA_TYPES, FileFormat
from wander.core.results.summaries import CombOut, SeamOut
from wander.core.shaping.density import MOST, Density

Way = Annotated[float, Query(ge=-1e3, le=1e3)]
Far = Annotated[float, Query(ge=-1e6, le=1e6, description="mm along the direction")]
_BODIES = TypeAdapter(list[BodyAt])
_AREAS = TypeAdapter(list[AreaOut])
_SEAMS = TypeAdapter(list[SeamOut])
router = APIRouter(prefix="/api/designs", tags=["designs"])


@router.get("")
def rack(service: Using) -> list[CardOut]:
    """All designs, the one changed last first."""
    return [CardOut.of(card, building) for card, building in service.cards()]


@router.post("", status_code=201)
def create(new: NewDesign, service: Using) -> DesignOut:
    """A new empty design."""
    return DesignOut.of(service.create(new.name))


@router.post("/demo")
def load_demo(service: Using) -> Added:
    """Put the demo designs on the rack that are not there by name."""
    return Added(added=service.load_demo())


@router.post("/file", status_code=201, openapi_extra={"requestBody": {"content": {"application/json": {"schema": {}}}, "required": True}})
async def open_file(request: Request, service: Using) -> DesignOut:
    """A design from a file in the open format, as the body of the request."""
    data = await request.body()
    return DesignOut.of(await asyncio.to_thread(service.open_file, data))


@router.get("/{design}")
def read(design: str, service: Using) -> DesignOut:
    return DesignOut.of(service.head(design))


@router.get("/{design}/worth")
def worth(design: str, text: Annotated[str, Query(max_length=200)], kind: Literal["length", "angle", "count"], service: Using) -> Worth:
    """What a number as it is being typed comes to in this design: mm, degrees or a count; null where it can't be read yet."""
    try:
        return Worth(value=service.worth(design, text, kind))
    except ExpressionError as error:
        return Worth(value=None, why=f"{sentence(error)}." if text.strip() else "")


@router.delete("/{design}", status_code=204)
def remove(design: str, service: Using) -> None:
    service.remove(design)


@router.post("/{design}/edits")
def edit(design: str, batch: Edits, service: Using) -> DesignOut:
    """Apply a batch of edits as one revision; it is on disk before the answer goes out."""
    return DesignOut.of(service.edit(design, batch.base_revision, batch.edits, batch.mark))


@router.post("/{design}/undo")
def undo(design: str, on: OnRevision, service: Using) -> DesignOut:
    return DesignOut.of(service.undo(design, on.base_revision))


@router.post("/{design}/redo")
def redo(design: str, on: OnRevision, service: Using) -> DesignOut:
    return DesignOut.of(service.redo(design, on.base_revision))


@router.get("/{design}/versions")
def versions(design: str, service: Using) -> list[VersionOut]:
    """Revisions that were given a name, the newest first."""
    return [VersionOut.of(version) for version in service.versions(design)]


@router.post("/{design}/versions", status_code=201)
def name_version(design: str, new: NewVersion, service: Using) -> VersionOut:
    return VersionOut.of(service.name_version(design, new.revision, new.name))


@router.delete("/{design}/versions/{number}", status_code=204)
def forget_version(design: str, number: Number, service: Using) -> None:
    """Take the name away; the revision stays."""
    service.store.forget_version(design, number)


@router.post("/{design}/revisions/{revision}/open")
def open_revision(design: str, revision: Number, on: OnRevision, service: Using) -> DesignOut:
    """Go on from an old revision."""
    return DesignOut.of(service.open_revision(design, on.base_revision, revision))


@router.get("/{design}/revisions/{revision}/bodies")
def bodies_at(design: str, revision: Number, service: Using) -> list[BodyAt]:
    """The bodies of an old revision, to be compared with those of another."""
    return _BODIES.validate_json(service.bodies_at(design, revision))


@router.post("/{design}/cuts")
def cut(design: str, wanted: CutIn, service: Using) -> DesignOut:
    """Cut the section that a body has at a place along its Run, and add it there: the body stays as it is."""
    return DesignOut.of(service.cut(design, wanted.base_revision, wanted.step, wanted.at))


@router.get("/{design}/drawings/{step}/as-drawn")
def as_drawn(design: str, step: str, service: Using) -> AsDrawn:
    """What the board shows of a section whose shape is given by a few numbers. Looking at it changes nothing."""
    return AsDrawn.model_validate_json(service.as_drawn(design, step))


@router.post("/{design}/drawings/{step}/told")
def told(design: str, step: str, wanted: TellIn, service: Using) -> TellOut:
    """What measures of things in a drawing come to, without holding them. Nothing is changed."""
    asked = [(one.type, tuple(one.of)) for one in wanted.asked]
    return TellOut.model_validate_json(service.told(design, step, asked, wanted.curves))


@router.get("/{design}/section")
def section(design: str, x: Way, y: Way, z: Way, at: Far, service: Using) -> list[AreaOut]:
    """Areas in which a plane square to a direction cuts the bodies."""
    return _AREAS.validate_json(service.section(design, (x, y, z), at))


@router.get("/{design}/bodies/{step}/continuity")
def continuity(design: str, step: str, service: Using) -> list[SeamOut]:
    """How the faces of a body meet along every edge and across every section, the worst first."""
    return _SEAMS.validate_json(service.continuity(design, step))


@router.get("/{design}/bodies/{step}/combs")
def combs(design: str, step: str, service: Using) -> list[CombOut]:
    """How much the sections and flow lines of a body bend."""
    return COMBS.validate_json(service.combs(design, step))


@router.post("/{design}/steps/{step}/fair")
def fair(design: str, step: str, wanted: FairIn, service: Using) -> FairOut:
    """What would smooth a rail, a spline of a drawing, or the sections of a loft within a tolerance; nothing is changed."""
    return FairOut.model_validate_json(service.fair(design, step, wanted.within, wanted.things))


@router.post("/{design}/drawings/{step}/release")
def release(design: str, step: str, wanted: ReleaseIn, service: Using) -> DesignOut:
    """Let things of a drawing go from what they follow: traces become curves of their own, holds to other things are dropped."""
    return DesignOut.of(service.release(design, wanted.base_revision, step, wanted.things))


@router.get("/{design}/drawings/{step}", response_class=Response)
async def drawing(design: str, step: str, service: Using, file_format: Annotated[DrawingFormat, Query(alias="format")]) -> Response:
    """The drawing of a section in real size."""
    name, future = await asyncio.to_thread(service.drawing, design, step, file_format)
    return _file(await asyncio.wrap_future(future), DRAWING_TYPES[file_format], name, file_format.value)


@router.post("/{design}/stop", status_code=204)
def stop(design: str, service: Using) -> None:
    """End the work on the step that is being computed."""
    service.engine.stop(design)


@router.post("/{design}/again", status_code=204)
def again(design: str, service: Using) -> None:
    """Try once more what was given up or stopped."""
    service.engine.try_again(design)


@router.get("/{design}/document", response_class=Response)
def document(design: str, service: Using) -> Response:
    """The design as a file in the open format, what was brought into it along with it."""
    name, data = service.file(design)
    return _file(data, "application/json", name, "wander.json")


@router.get("/{design}/export", response_class=Response)
async def export(
    design: str,
    service: Using,
    file_format: Annotated[FileFormat, Query(alias="format")],
    tolerance: Annotated[float, Query(ge=1e-4, le=10, description="Chord height of meshes, mm.")] = 0.05,
    around: Annotated[int | None, Query(ge=1, le=MOST, description="OBJ: pieces round each body, whatever the tolerance.")] = None,
    along: Annotated[int | None, Query(ge=1, le=MOST, description="OBJ: pieces along each body.")] = None,
    loops: Annotated[
        list[Annotated[float, Field(ge=0, le=1)]], Query(max_length=64, description="OBJ: shares of the length at which a line goes round besides.")
    ] = [],  # noqa: B006 - read only, as the framework has it
) -> Response:
    """All bodies of the design in one file."""
    density = Density(tolerance, around, along, tuple(loops))
    name, future = await asyncio.to_thread(service.export, design, file_format, density)
    return _file(await asyncio.wrap_future(future), MEDIA_TYPES[file_format], name, file_format.value)


def _file(data: bytes, media_type: str, name: str, ending: str) -> Response:
    plain = re.sub(r"[^A-Za-z0-9._-]+", "-", name).strip("-") or "design"
    disposition = f"attachment; filename=\"{plain}.{ending}\"; filename*=UTF-8''{quote(name)}.{ending}"
    return Response(data, media_type=media_type, headers={"Content-Disposition": disposition})
