"""Errors as problem documents (RFC 9457), each with a stable code.

UnknownDesign       404 unknown-design        EditRefused         422 edit-refused
unknown mesh        404 unknown-mesh          UnreadableDocument  422 unreadable-document
StaleBase           409 stale-base            request validation  422 invalid-request
NothingToUndo       409 nothing-to-undo       ExportFailed        422 export-failed
too large           413 too-large             wrong host, origin  403 not-for-you
no token            401 token-needed            FileRefused         422 file-refused
a body that pauses  408 too-slow
the disk, its files 503 not-kept                what nobody foresaw 500 unforeseen
"""

from __future__ import annotations

import logging
from typing import Any, Literal
from uuid import uuid4

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import DatabaseError
from pydantic import BaseModel
from starlette.exceptions import HTTPException
from starlette.routing import compile_path

from wander.app.engine.questions import CutRefused, ExportFailed, FairRefused, FileRefused, ReleaseRefused
from wander.app.library import NoProfile
from wander.app.store.folder import why
from wander.app.store.pictures import UnknownPicture
from wander.app.store.profiles import UnknownProfile
from wander.app.store.store import NothingToUndo, StaleBase, UnknownDesign, UnknownRevision
from wander.core.design.errors import EditRefused, TooLarge, UnreadableDocument
from wander.core.document.findings import sentence
from wander.core.drawing.outlines.shapes import ShapeError

Code = Literal[
    "unknown-design",
    "unknown-mesh",
    "unknown-place",
    "stale-base",
    "nothing-to-undo",
    "edit-refused",
    "unreadable-document",
    "invalid-request",
    "export-failed",
    "cut-refused",
    "release-refused",
    "fair-refused",
    "file-refused",
    "no-picture",
    "no-profile",
    "unknown-revision",
    "too-large",
    "not-for-you",
    "token-needed",
    "not-allowed",
    "not-kept",
    "unforeseen",
    "too-slow",
]


log = logging.getLogger(__name__)


class Problem(BaseModel):
    """title: what happened. detail: this case, and what would help. current: the head revision, for stale-base. index: which edit."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: Code
    current: int | None = None
    index: int | None = None
    errors: list[dict[str, Any]] | None = None


class UnknownMesh(LookupError):
    """There is no mesh with this key in the cache."""


def respond(status: int, code: Code, title: str, detail: str, **more: Any) -> JSONResponse:
    problem = Problem(title=title, status=status, detail=detail, code=code, **more)
    return JSONResponse(problem.model_dump(exclude_none=True), status, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Handlers for every error that the application raises on purpose."""

    @app.exception_handler(UnknownDesign)
    async def unknown_design(request: Request, error: UnknownDesign) -> JSONResponse:
        return respond(404, "unknown-design", "No such design", f"There is no design “{error}” on this rack; it may have been removed.")

    @app.exception_handler(UnknownMesh)
    async def unknown_mesh(request: Request, error: UnknownMesh) -> JSONResponse:
        return respond(404, "unknown-mesh", "No such mesh", "It is not in the cache any more; opening the design builds it again.")

    @app.exception_handler(StaleBase)
    async def stale(request: Request, error: StaleBase) -> JSONResponse:
        detail = f"Your change was made on an older state; {error}. Look at it and make the change again."
        return respond(409, "stale-base", "Somebody else was first", detail, current=error.current)

    @app.exception_handler(NothingToUndo)
    async def nothing(request: Request, error: NothingToUndo) -> JSONResponse:
        return respond(409, "nothing-to-undo", "No further to go", f"{sentence(error)}.")

    @app.exception_handler(EditRefused)
    async def refused(request: Request, error: EditRefused) -> JSONResponse:
        return respond(422, "edit-refused", "This change does not fit the design", f"{error}. Nothing was changed.", index=error.index)

    @app.exception_handler(UnreadableDocument)
    async def unreadable(request: Request, error: UnreadableDocument) -> JSONResponse:
        service = request.app.state.service
        design = request.path_params.get("design")
        current = service.store.known(design) if isinstance(design, str) else None
        return respond(422, "unreadable-document", "This is not a design Wander can read", f"{error}.", current=current)

    @app.exception_handler(TooLarge)
    @app.exception_handler(ExportFailed)
    async def export_failed(request: Request, error: Exception) -> JSONResponse:
        return respond(422, "export-failed", "The file could not be made", f"{sentence(error)}.")

    @app.exception_handler(UnknownRevision)
    async def unknown_revision(request: Request, error: UnknownRevision) -> JSONResponse:
        return respond(404, "unknown-revision", "No such version", f"This design has no revision or version {error}.")

    @app.exception_handler(UnknownPicture)
    async def unknown_picture(request: Request, error: UnknownPicture) -> JSONResponse:
        return respond(
            404,
            "no-picture",
            "No such picture",
            "This machine does not have the picture. Open a file of the design that brings it along, or add it again.",
        )

    @app.exception_handler(UnknownProfile)
    async def unknown_profile(request: Request, error: UnknownProfile) -> JSONResponse:
        return respond(404, "no-profile", "No such profile", f"There is no own profile “{error}” in the library; it may have been removed.")

    @app.exception_handler(NoProfile)
    @app.exception_handler(ShapeError)
    async def no_profile(request: Request, error: Exception) -> JSONResponse:
        return respond(422, "no-profile", "No profile like this", f"{sentence(error)}. Nothing was changed.")

    @app.exception_handler(FairRefused)
    async def fair_refused(request: Request, error: FairRefused) -> JSONResponse:
        return respond(422, "fair-refused", "There is nothing to smooth", f"{sentence(error)}.")

    @app.exception_handler(ReleaseRefused)
    async def release_refused(request: Request, error: ReleaseRefused) -> JSONResponse:
        return respond(422, "release-refused", "Nothing was let go", f"{sentence(error)}.")

    @app.exception_handler(FileRefused)
    async def file_refused(request: Request, error: FileRefused) -> JSONResponse:
        return respond(422, "file-refused", "This file can't be used", f"{sentence(error)}. Nothing was changed.")

    @app.exception_handler(CutRefused)
    async def cut_refused(request: Request, error: CutRefused) -> JSONResponse:
        return respond(422, "cut-refused", "No section can be cut here", f"{sentence(error)}.")

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        errors = [{"place": ".".join(str(p) for p in e["loc"]), "message": e["msg"]} for e in error.errors()][:20]
        detail = "; ".join(f"{e['place']}: {e['message']}" for e in errors[:3])
        return respond(422, "invalid-request", "The request can't be understood", f"{detail}.", errors=errors)

    @app.exception_handler(DatabaseError)
    @app.exception_handler(OSError)
    async def not_kept(request: Request, error: Exception) -> JSONResponse:
        log.error("%s %s: %s", request.method, request.url.path, error)
        detail = f"The designs can't be reached on this machine's disk: {why(error)}. What was kept before is there; once this is settled, try again."
        return respond(503, "not-kept", "This could not be kept", detail)

    @app.exception_handler(Exception)
    async def unforeseen(request: Request, error: Exception) -> JSONResponse:
        number = uuid4().hex[:8]
        log.error("reference %s: %s %s", number, request.method, request.url.path)
        return respond(
            500, "unforeseen", "Something went wrong that Wander has no words for", f"Nothing was changed. The server's log has it under {number}."
        )

    @app.exception_handler(HTTPException)
    async def other(request: Request, error: HTTPException) -> JSONResponse:
        code: Code = "unknown-place" if error.status_code == 404 else "not-allowed"
        answer = respond(error.status_code, code, "There is nothing here", f"{request.method} {request.url.path} leads nowhere.")
        answer.headers.update(error.headers or {})
        if error.status_code == 405:
            # the framework names the methods of the first route that fits, and a place may have several
            answer.headers["allow"] = ", ".join(_methods_at(app, request.url.path))
        return answer


def _methods_at(app: FastAPI, place: str) -> list[str]:
    """The methods by which a place can be asked for, as they are published."""
    paths = app.openapi()["paths"]
    # a place that is published by its own name is that, whatever else it could stand for
    fitting = [paths[place]] if place in paths else [operations for path, operations in paths.items() if compile_path(path)[0].match(place)]
    return sorted({method.upper() for operations in fitting for method in operations})
