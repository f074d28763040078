"""Routes for what comes into a design from files: curves, reference pictures, bodies. The file is the body of the request."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import APIRouter, Query, Request

from wander.app.api.using import Using
from wander.app.api.wire import BringingIn, BroughtOut, DesignOut, LookedOut, Number, PlacingIn
from wander.core.design.parts import Use

router = APIRouter(prefix="/api/designs", tags=["designs"])
_A_FILE = {"requestBody": {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}, "required": True}}


@router.post("/{design}/curves", openapi_extra=_A_FILE)
async def look(design: str, request: Request, service: Using, wanted: Annotated[PlacingIn, Query()]) -> LookedOut:
    """What a file (foil coordinates, points, DXF, SVG), the body of the request, would bring into a drawing; nothing is changed."""
    data = await request.body()
    found = await asyncio.to_thread(service.look, design, data, wanted.file_name, wanted.placing(), wanted.tolerance)
    return LookedOut.model_validate_json(found)


@router.post("/{design}/drawings/{step}/curves", openapi_extra=_A_FILE)
async def bring(design: str, step: str, request: Request, service: Using, wanted: Annotated[BringingIn, Query()]) -> BroughtOut:
    """Add the curves of a file (foil coordinates, points, DXF, SVG), the body of the request, to the drawing of a section."""
    data = await request.body()
    asked = (design, wanted.base_revision, step, data, wanted.file_name, wanted.placing(), wanted.tolerance)
    head, brought = await asyncio.to_thread(service.bring, *asked, instead=wanted.instead)
    return BroughtOut(design=DesignOut.of(head), curves=brought.curves, points=brought.points, deviation=brought.deviation)


@router.post("/{design}/pictures", openapi_extra=_A_FILE)
async def add_picture(
    design: str, request: Request, service: Using, base_revision: Number, station: str, name: Annotated[str, Query(min_length=1, max_length=80)]
) -> DesignOut:
    """Lay a reference picture (PNG or JPEG), the body of the request, on a station."""
    data = await request.body()
    return DesignOut.of(await asyncio.to_thread(service.add_picture, design, base_revision, station, data, name))


@router.post("/{design}/parts", openapi_extra=_A_FILE)
async def add_part(
    design: str,
    request: Request,
    service: Using,
    base_revision: Number,
    file_name: Annotated[str, Query(max_length=200)],
    use: Annotated[Use, Query(description="To be worked on (STEP), or only to be looked at.")] = Use.WORK,
    instead: Annotated[str | None, Query(max_length=40, description="The step of a part or reference whose file it replaces.")] = None,
) -> DesignOut:
    """Bring in the bodies of a STEP or STL file, the body of the request, or put one in place of another."""
    data = await request.body()
    return DesignOut.of(await asyncio.to_thread(service.add_part, design, base_revision, data, file_name, use, instead))
