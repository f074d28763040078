"""Routes for what does not belong to one design: kinds of step, the format, meshes."""

from __future__ import annotations

import os
from typing import Any

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse

from wander.app.api.problems import UnknownMesh
from wander.app.api.using import Using
from wander.app.api.wire import HoldOut, KindOut
from wander.app.store.pictures import picture
from wander.core.design.reading import document_schema
from wander.core.document.materials import MATERIALS, Material
from wander.core.drawing.holds import CURVES_IN_PAIRS, HOLD_TAKES, HOLD_WORDS, KINDS, MEASURES
from wander.core.exchange.pictures import media_type
from wander.core.steps import REGISTRY

router = APIRouter(prefix="/api", tags=["catalog"])


@router.get("/health")
def health() -> dict[str, str]:
    return {"state": "ready"}


@router.get("/kinds")
def kinds() -> list[KindOut]:
    """The kinds of step with the schemas of their parameters: menus and forms follow from this."""
    return [KindOut(name=k.name, title=k.title, result=k.result, params=k.schema) for k in REGISTRY]


@router.get("/holds")
def holds() -> list[HoldOut]:
    """What can hold a drawing, and what it can be put on: "point", or types of curves joined by a bar."""
    takes = HOLD_TAKES | {"symmetric": (*HOLD_TAKES["symmetric"], *CURVES_IN_PAIRS), "divided": (), "passes": ()}
    return [
        HoldOut(
            type=name,
            title=words.capitalize(),
            measure=name in MEASURES,
            takes=[["|".join(sorted(KINDS[letter])) for letter in take] for take in takes[name]],
        )
        for name, words in HOLD_WORDS.items()
    ]


@router.get("/materials")
def materials() -> list[Material]:
    """What bodies can be made of, with densities in g/cm3."""
    return list(MATERIALS)


@router.get("/schema")
def schema() -> dict[str, Any]:
    """The JSON Schema of the open format."""
    return document_schema()


@router.get("/pictures/{key}", response_class=Response)
def reference_picture(key: str, service: Using) -> Response:
    """A reference picture. What a key stands for never changes."""
    data = picture(key)
    return Response(data, media_type=media_type(data), headers={"Cache-Control": "public, max-age=31536000, immutable"})


@router.get("/meshes/{key}", response_class=FileResponse)
def mesh(key: str, service: Using) -> FileResponse:
    """A mesh as GLB. What a key stands for never changes."""
    try:
        path = service.meshes.path(key)
        os.utime(path)  # read just now: the last to be dropped from the cache
    except (KeyError, FileNotFoundError):
        raise UnknownMesh(key) from None
    return FileResponse(path, media_type="model/gltf-binary", headers={"Cache-Control": "public, max-age=31536000, immutable"})
