"""Starting the server."""

from __future__ import annotations

import errno
import os
import socket
import sys
from pathlib import Path

import uvicorn

from wander.app.engine.processes import loading
from wander.app.settings import Settings

LOCAL = {"127.0.0.1", "localhost", "::1"}


def pages_folder() -> Path:
    """The built front end, from the package or, in a checkout, from web/dist."""
    packaged = Path(__file__).parents[1] / "pages"
    return packaged if packaged.is_dir() else Path(__file__).parents[3] / "web" / "dist"


def run(host: str, port: int, *, demo: bool) -> None:
    """Serve until stopped. On an address that others can reach a token is demanded."""
    settings = Settings()
    if host not in LOCAL:
        if not settings.token:
            sys.exit("Serving beyond this machine needs a token: set WANDER_TOKEN.")
        settings = settings.model_copy(update={"hosts": (*settings.hosts, host)})
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
    print(f"Wander is at http://{host}:{port}", flush=True)
    uvicorn.Server(config).run(sockets=[taken])


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
