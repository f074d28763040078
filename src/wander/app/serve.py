"""Starting the server."""

from __future__ import annotations

import errno
import os
import secrets
import socket
import sys
from contextlib import suppress
from pathlib import Path
from urllib.parse import quote

import uvicorn

from wander.app.engine.processes import loading
from wander.app.entrance import ENTRANCE
from wander.app.settings import Settings

LOCAL = {"127.0.0.1", "localhost", "::1"}
EVERYWHERE = {"0.0.0.0", "::"}


def pages_folder() -> Path:
    """The built front end, from the package or, in a checkout, from web/dist."""
    packaged = Path(__file__).parents[1] / "pages"
    return packaged if packaged.is_dir() else Path(__file__).parents[3] / "web" / "dist"


def run(host: str, port: int, *, demo: bool) -> None:
    """Serve until stopped. On an address that others can reach a token is demanded: the links that are printed hold it."""
    settings = Settings()
    names = [host]
    if host not in LOCAL:
        names = reached_at(host)
        token = settings.token or secrets.token_urlsafe(24)
        settings = settings.model_copy(update={"hosts": tuple({*settings.hosts, *(name.lower() for name in names)}), "token": token})
    taken = _bound(host, port)
    with loading():
        from wander.app.api.application import create_app
        from wander.app.patience import patient
        from wander.app.store.folder import Unusable
        from wander.app.store.store import Store

    try:
        store = Store(settings.database)
    except Unusable as error:
        sys.exit(f"Wander can't start: {error}.")
    app = create_app(settings, pages_folder(), demo=demo, store=store)
    # meshes of a drag hardly shrink, and packing one takes as long as a fifth of its way to the screen
    config = uvicorn.Config(
        app,
        http=patient(settings.patience_seconds),
        log_level="warning",
        ws="websockets-sansio",
        ws_per_message_deflate=False,
        timeout_graceful_shutdown=2,
    )
    for name in names:
        print(f"Wander is at http://{name}:{port}{_entrance(settings.token)}", flush=True)
    if settings.token:
        print(
            "Whoever has this link can see and change all designs. It opens the pages once for a browser, which then keeps it as a cookie.",
            flush=True,
        )
    uvicorn.Server(config).run(sockets=[taken])


def _entrance(token: str) -> str:
    return f"{ENTRANCE}?token={quote(token, safe='')}" if token else ""


def reached_at(host: str) -> list[str]:
    """The names at which a server that listens on an address is reached, as they stand in a link: of all addresses, those of this machine."""
    if host not in EVERYWHERE:
        return [f"[{host}]" if ":" in host else host]
    family = socket.AF_INET6 if host == "::" else socket.AF_INET
    own = socket.gethostname()
    found = [own]
    with suppress(OSError):
        found += [str(info[4][0]) for info in socket.getaddrinfo(own, None, family)]
    with suppress(OSError), socket.socket(family, socket.SOCK_DGRAM) as probe:
        # nothing is sent: this only asks by which way a packet would leave
        probe.connect(("2001:db8::1" if family == socket.AF_INET6 else "192.0.2.1", 9))
        found.append(str(probe.getsockname()[0]))
    return [f"[{name}]" if ":" in name else name for name in dict.fromkeys([*found, "::1" if family == socket.AF_INET6 else "127.0.0.1"])]


def _bound(host: str, port: int) -> socket.socket:
    """The address, taken before anybody is told of it."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    found = socket.socket(family, socket.SOCK_STREAM)
    if os.name != "nt":
        found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)  # on Windows this would share the address with another server
    try:
        found.bind((host, port))
    except OSError as error:
        found.close()
        if error.errno == errno.EADDRINUSE:
            sys.exit(f"Wander can't start: something else already answers at {host}:{port}. Choose another port: wander serve --port {port + 1}.")
        sys.exit(f"Wander can't start at {host}:{port}: {error.strerror}.")
    return found
