"""The live channel: one WebSocket for each window on a design."""

from __future__ import annotations

import asyncio
import contextlib
import logging
from collections.abc import Callable
from dataclasses import dataclass

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError

from wander.app.api.wire import PreviewIn
from wander.app.engine.live import PreviewRefused
from wander.app.service import Service, revised
from wander.app.store.store import UnknownDesign
from wander.core.design.errors import EditRefused, UnreadableDocument

router = APIRouter(prefix="/api/designs", tags=["live"])
log = logging.getLogger(__name__)


@router.websocket("/{design}/live")
async def live(socket: WebSocket, design: str) -> None:
    """Down: everything that happens to the design. Up: previews, numbered, the newest of which wins.

    Messages down are JSON, but for meshes that were made just now: 32 characters of key and the GLB that belongs to it, just before the step that
    speaks of it. What is not handed over this way can be had by its key.
    """
    service: Service = socket.app.state.service
    try:
        head = await asyncio.to_thread(service.head, design)
    except (UnknownDesign, UnreadableDocument):
        await socket.close(1008, "There is no such design, or it can't be read.")
        return
    await socket.accept()
    with service.hub.listening(design) as queue:
        await socket.send_text(revised(head).model_dump_json())
        try:
            snapshot = await asyncio.to_thread(service.snapshot, design)
        except UnknownDesign:
            await socket.close(1008, "There is no such design any more.")
            return
        await socket.send_text(snapshot.model_dump_json())
        pulled = Pulled()
        tasks = [asyncio.create_task(_down(socket, queue)), asyncio.create_task(_up(socket, service, design, pulled))]
        _, pending = await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
        for task in pending:
            task.cancel()
        for task in tasks:
            with contextlib.suppress(asyncio.CancelledError, WebSocketDisconnect, RuntimeError):
                await task
    if pulled.by_edits and service.hub.heard(design):
        # a window that closes under the hand leaves what it pulled about on the screens of the others
        with contextlib.suppress(EditRefused, UnknownDesign):
            await asyncio.to_thread(service.put_back, design, pulled.number + 1)


@dataclass
class Pulled:
    """The last preview that a window asked for. by_edits: it shows something else than what is kept."""

    number: int = 0
    by_edits: bool = False


async def _down(socket: WebSocket, queue: asyncio.Queue[str | bytes | None]) -> None:
    while (message := await queue.get()) is not None:
        if isinstance(message, bytes):
            await socket.send_bytes(message)
        else:
            await socket.send_text(message)
    await socket.close(1013, "You have fallen behind; come again.")


async def _up(socket: WebSocket, service: Service, design: str, pulled: Pulled) -> None:
    coming = asyncio.ensure_future(socket.receive())
    try:
        while (message := await coming)["type"] != "websocket.disconnect":
            # heard before the one at hand is done with: a hand that goes on is worth more than what comes of where it was
            coming = asyncio.ensure_future(socket.receive())
            await _preview(socket, service, design, message.get("text") or "", pulled, coming.done)
    finally:
        coming.cancel()


async def _preview(socket: WebSocket, service: Service, design: str, message: str, pulled: Pulled, overtaken: Callable[[], bool]) -> None:
    number = 0
    try:
        asked = PreviewIn.model_validate_json(message)
        number = asked.number
        pulled.number, pulled.by_edits = number, bool(asked.edits)
        await asyncio.to_thread(
            service.preview, design, asked.base_revision, asked.number, asked.edits, asked.combed, overtaken=overtaken, since=asked.since
        )
    except (ValidationError, EditRefused) as error:
        await socket.send_text(PreviewRefused(preview=number, detail=str(error)).model_dump_json())
    except UnknownDesign:
        await socket.close(1008, "There is no such design any more.")
    except Exception:
        # a window does not lose its channel to what goes wrong with one picture
        log.exception("a preview of design %s failed", design)
        await socket.send_text(PreviewRefused(preview=number, detail="Something went wrong that Wander has no words for.").model_dump_json())
