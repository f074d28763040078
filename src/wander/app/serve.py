"""Starting the server."""

from __future__ import annotations

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
    with loading():
        from wander.app.api.application import create_app

    app = create_app(settings, pages_folder(), demo=demo)
    print(f"Wander is at http://{host}:{port}", flush=True)
    # meshes of a drag hardly shrink, and packing one takes as long as a fifth of its way to the screen
    uvicorn.run(app, host=host, port=port, log_level="warning", ws="websockets-sansio", ws_per_message_deflate=False, timeout_graceful_shutdown=2)
