"""Who may talk to the server, and how much at once. Plain ASGI, so that it holds for the live channel too."""

from __future__ import annotations

import asyncio
import re
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wander.app.api.problems import respond
from wander.app.entrance import ENTRANCE, admitted, knows
from wander.app.settings import Settings

_HOST = re.compile(r"(\[[0-9a-f:.]+\]|[a-z0-9.-]+)(?::\d{1,5})?")
_HEADERS = {
    "content-security-policy": (
        # styles are written by the page's own library as it goes; everything else comes from here
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; worker-src 'self' blob:; "
        "object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    ),
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "referrer-policy": "no-referrer",
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
}


class Guard:
    """Checks Host and Origin, the token where one is set, and the size and pace of bodies; says to browsers what pages may do."""

    def __init__(self, app: ASGIApp, settings: Settings) -> None:
        self._app = app
        self._hosts = {host.lower() for host in settings.hosts}
        self._token = settings.token
        self._largest = settings.largest_upload
        self._pause = settings.patience_seconds

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return

        async def headed(message: Message) -> None:
            if message["type"] == "http.response.start":
                found = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    found.setdefault(name, value)
            await send(message)

        await self._admitted(scope, receive, headed)

    async def _admitted(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = Headers(scope=scope)
        if not self._served(headers.getlist("host")) or not self._own(headers):
            await self._refuse(
                scope,
                receive,
                send,
                403,
                "Not from there",
                "This server answers only pages that it served itself. Open it at the address it printed.",
            )
            return
        if self._token and scope["type"] == "http" and scope["path"] == ENTRANCE and (answer := admitted(self._token, scope, headers)) is not None:
            await answer(scope, receive, send)
            return
        if self._token and scope["path"] == ENTRANCE and "text/html" in headers.get("accept", ""):
            # a person with a link that is no longer good: the page says so
            await RedirectResponse("/", 303)(scope, receive, send)
            return
        if self._token and scope["path"].startswith(("/api", ENTRANCE)) and not knows(self._token, headers):
            await self._refuse(scope, receive, send, 401, "The key is missing", "Open the link that was printed where this server was started.")
            return
        length = headers.get("content-length", "0")
        if length.isdigit() and int(length[:20]) > self._largest:
            await self._too_large(scope, receive, send)
            return
        await self._bounded(scope, receive, send)

    async def _bounded(self, scope: Scope, receive: Receive, send: Send) -> None:
        """The same with a limit on bodies that do not say how long they are, and on how long they may pause."""
        size, complete, trouble, begun = 0, scope["type"] != "http", "", False

        async def counted() -> Message:
            nonlocal size, complete, trouble
            if complete or trouble:
                return await receive()
            try:
                message = await asyncio.wait_for(receive(), self._pause)
            except TimeoutError:
                trouble = "slow"
                return {"type": "http.disconnect"}
            size += len(message.get("body", b""))
            complete = not message.get("more_body", False)
            if size > self._largest:
                trouble = "large"
                return {"type": "http.disconnect"}
            return message

        async def watched(message: Message) -> None:
            nonlocal begun
            if not trouble or begun:
                begun = True
                await send(message)

        try:
            await self._app(scope, counted, watched)
        except ClientDisconnect:
            if not trouble:
                raise
        if begun or not trouble:
            return
        if trouble == "large":
            await self._too_large(scope, receive, send)
        else:
            answer = respond(408, "too-slow", "Nothing came for too long", "The rest of the request did not come. Send it again.")
            answer.headers["connection"] = "close"
            await answer(scope, receive, send)

    def _served(self, hosts: list[str]) -> bool:
        found = _HOST.fullmatch(hosts[0].lower()) if len(hosts) == 1 else None
        return found is not None and found[1] in self._hosts

    def _own(self, headers: Headers) -> bool:
        """A page may ask the server that it came from, and no other on this machine: name and port have to be the same."""
        origins = headers.getlist("origin")
        if not origins:
            return True
        parts = urlsplit(origins[0])
        return len(origins) == 1 and parts.scheme in ("http", "https") and parts.netloc.lower() == headers.get("host", "").lower()

    async def _too_large(self, scope: Scope, receive: Receive, send: Send) -> None:
        limit = f"{self._largest // 2**20} MB"
        await respond(413, "too-large", "That is too much at once", f"A design file may have up to {limit}.")(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send, status: int, title: str, detail: str) -> None:
        if scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 1008, "reason": title})
            return
        await respond(status, "not-for-you" if status == 403 else "token-needed", title, detail)(scope, receive, send)
