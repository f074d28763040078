"""HTTP connections that are not held open by half a request."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol


class PatientProtocol(HttpToolsProtocol):
    """Closes a connection on which a request was begun and never said in full. Bodies are the guard's to watch."""

    seconds = 20.0
    """From the first byte of a request, or from the connection, to the end of its headers."""
    _waiting: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._wait()

    def connection_lost(self, exc: Exception | None) -> None:
        self._heard()
        super().connection_lost(exc)

    def on_message_begin(self) -> None:
        super().on_message_begin()
        self._wait()

    def on_headers_complete(self) -> None:
        self._heard()
        super().on_headers_complete()

    def handle_websocket_upgrade(self) -> None:
        self._heard()
        super().handle_websocket_upgrade()

    def _wait(self) -> None:
        self._heard()
        self._waiting = self.loop.call_later(self.seconds, self._give_up)

    def _heard(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _give_up(self) -> None:
        transport: Any = self.transport
        if transport is not None and not transport.is_closing():
            transport.close()


def patient(seconds: float) -> type[PatientProtocol]:
    """The protocol with this patience."""
    return type("Patient", (PatientProtocol,), {"seconds": seconds})
