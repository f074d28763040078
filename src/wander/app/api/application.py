"""The application, assembled: settings in, ASGI app out."""

from __future__ import annotations

import asyncio
import gc
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel
from pydantic.json_schema import models_json_schema
from starlette.exceptions import HTTPException

from wander import __version__
from wander.app.api import bringing, catalog, designs, library, live, problems
from wander.app.api.guard import Guard
from wander.app.api.wire import PreviewIn
from wander.app.engine import live as events
from wander.app.engine.processes import load_late
from wander.app.service import Service
from wander.app.settings import Settings
from wander.app.store.store import Store

AT_LEISURE = 5.0
"""Seconds after the start at which nobody waits for it any more."""
LIVE_MODELS: list[type[BaseModel]] = [
    events.StepUpdate,
    events.StepShaped,
    events.StepPenned,
    events.StepCombed,
    events.WorkingOn,
    events.BuildDone,
    events.SolidState,
    events.Revised,
    events.Snapshot,
    events.PreviewRefused,
    PreviewIn,
]


def create_app(settings: Settings, pages: Path | None = None, *, demo: bool = False, store: Store | None = None) -> FastAPI:
    """pages: folder of the built front end, left out where only the interface is wanted. demo: put the demo designs on the rack.

    store: where the designs are, if it has been opened already.

    Nothing starts before the lifespan does.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        service = await asyncio.to_thread(Service, settings, store)
        service.hub.attach(asyncio.get_running_loop())
        app.state.service = service
        if demo:
            await asyncio.to_thread(service.load_demo)
        # what is there by now stays: to look through it for waste takes longer than a move of the hand may
        gc.freeze()
        loop = asyncio.get_running_loop()
        late = loop.call_later(AT_LEISURE, loop.run_in_executor, None, load_late)
        yield
        late.cancel()
        await asyncio.to_thread(service.close)

    app = FastAPI(
        title="Wander",
        version=__version__,
        lifespan=lifespan,
        openapi_url="/api/openapi.json",
        docs_url=None,  # its pages fetch their script from elsewhere
        redoc_url=None,
        responses={"default": {"model": problems.Problem}},
    )
    app.include_router(designs.router)
    app.include_router(bringing.router)
    app.include_router(catalog.router)
    app.include_router(library.router)
    app.include_router(live.router)
    problems.install(app)
    app.add_middleware(Guard, settings=settings)
    app.openapi = lambda: _openapi(app)  # type: ignore[method-assign]
    if pages is not None and pages.is_dir():
        _serve_pages(app, pages)
    return app


def _openapi(app: FastAPI) -> dict[str, Any]:
    """The usual description, with the messages of the live channel among its schemas; worked out once."""
    if app.openapi_schema is not None:
        return app.openapi_schema
    found = get_openapi(title=app.title, version=app.version, routes=app.routes)
    _, live_schemas = models_json_schema([(m, "serialization") for m in LIVE_MODELS], ref_template="#/components/schemas/{model}")
    schemas = found["components"]["schemas"]
    for name, schema in live_schemas.get("$defs", {}).items():
        schemas.setdefault(name, schema)
    problem = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for operations in found["paths"].values():
        for operation in operations.values():
            for status, response in operation["responses"].items():
                if status == "default" or status.startswith("4"):
                    # as they are sent, whatever the framework would have said itself
                    response["content"] = problem
    app.openapi_schema = found
    return found


def _serve_pages(app: FastAPI, pages: Path) -> None:
    """The front end; every address that is no file is a place inside it."""
    app.mount("/assets", StaticFiles(directory=pages / "assets"), name="assets")

    @app.get("/{place:path}", include_in_schema=False)
    def page(place: str) -> FileResponse:
        wanted = (pages / place).resolve()
        if place.startswith("api/"):
            raise HTTPException(404)
        inside = wanted.is_relative_to(pages.resolve()) and wanted.is_file()
        return FileResponse(wanted if inside else pages / "index.html", headers={"Cache-Control": "no-cache"})
