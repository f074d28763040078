"""Who listens to which design. Events come from any thread and leave on the event loop."""

from __future__ import annotations

import asyncio
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager

from wander.app.engine.live import LiveEvent

FEW_WAITING = 12
MOST_WAITING = 2000
"""A listener that falls further behind is dropped; it comes back and gets a snapshot."""


class Hub:
    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._queues: dict[str, set[asyncio.Queue[str | bytes | None]]] = defaultdict(set)

    def attach(self, loop: asyncio.AbstractEventLoop) -> None:
        self._loop = loop

    def heard(self, design: str) -> bool:
        """Whether anybody listens to a design."""
        return bool(self._queues.get(design))

    def tell(self, design: str, event: LiveEvent) -> None:
        if self._loop is None or not self._queues.get(design):
            return
        self._loop.call_soon_threadsafe(self._spread, design, event.model_dump_json())

    def hand(self, design: str, data: bytes) -> None:
        """Give listeners something that they could also ask for; who is behind already does without."""
        if self._loop is not None and self._queues.get(design):
            self._loop.call_soon_threadsafe(self._spread, design, data)

    def _spread(self, design: str, message: str | bytes) -> None:
        for queue in list(self._queues.get(design, ())):
            if queue.qsize() >= MOST_WAITING:
                self._queues[design].discard(queue)
                queue.put_nowait(None)
            elif isinstance(message, str) or queue.qsize() <= FEW_WAITING:
                queue.put_nowait(message)

    @contextmanager
    def listening(self, design: str) -> Iterator[asyncio.Queue[str | bytes | None]]:
        """A queue of events as JSON, and of meshes as bytes; None means: fallen behind, come again."""
        queue: asyncio.Queue[str | bytes | None] = asyncio.Queue()
        self._queues[design].add(queue)
        try:
            yield queue
        finally:
            self._queues[design].discard(queue)
            if not self._queues[design]:
                del self._queues[design]
