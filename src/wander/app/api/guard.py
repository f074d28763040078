"""Who may talk to the server, and how much at once. Plain ASGI, so that it holds for the live channel too."""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

from starlette.datastructures import Headers, QueryParams
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wander.app.api.problems import respond
from wander.app.settings import Settings


class TooLarge(Exception):
    """The body is larger than is read; the rest of it stays unread."""


class Guard:
    """Checks Host and Origin against the names that are served, the token where one is set, and the size of bodies."""

    def __init__(self, app: ASGIApp, settings: Settings) -> None:
        self._app = app
        self._hosts = {host.lower() for host in settings.hosts}
        self._token = settings.token
        self._largest = settings.largest_upload

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        if not self._served(headers.get("host", "")) or not self._own(headers.get("origin")):
            await self._refuse(scope, receive, send, 403, "Not from there", "This server answers only pages that it served itself.")
            return
        if self._token and scope["path"].startswith("/api") and not self._knows_token(headers, scope):
            await self._refuse(scope, receive, send, 401, "A token is needed", "This server was started with a token; pass it as a bearer token.")
            return
        if int(headers.get("content-length") or 0) > self._largest:
            await self._too_large(scope, receive, send)
            return
        await self._bounded(scope, receive, send)

    async def _bounded(self, scope: Scope, receive: Receive, send: Send) -> None:
        """The same with a limit on bodies that do not say how long they are."""
        seen = 0
        begun = False

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            if message["type"] == "http.request":
                seen += len(message.get("body", b""))
                if seen > self._largest:
                    raise TooLarge
            return message

        async def watched(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self._app(scope, counted, watched)
        except TooLarge:
            if not begun:
                await self._too_large(scope, receive, send)

    def _served(self, host: str) -> bool:
        name = host.lower()
        return name in self._hosts or name.rsplit(":", 1)[0] in self._hosts

    def _own(self, origin: str | None) -> bool:
        return origin is None or self._served(urlsplit(origin).netloc)

    def _knows_token(self, headers: Headers, scope: Scope) -> bool:
        given = headers.get("authorization", "").removeprefix("Bearer ")
        if scope["type"] == "websocket":
            given = given or QueryParams(scope["query_string"]).get("token", "")
        return secrets.compare_digest(given.encode(), self._token.encode())

    async def _too_large(self, scope: Scope, receive: Receive, send: Send) -> None:
        limit = f"{self._largest // 2**20} MB"
        await respond(413, "too-large", "That is too much at once", f"A design file may have up to {limit}.")(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send, status: int, title: str, detail: str) -> None:
        if scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 1008, "reason": title})
            return
        await respond(status, "not-for-you" if status == 403 else "token-needed", title, detail)(scope, receive, send)
