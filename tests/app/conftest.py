"""One server for the tests that don't break it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.app.server import Server


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    running = Server(tmp_path_factory.mktemp("data")).start("demo")
    yield running
    running.stop()


@pytest.fixture
def tarn(server: Server, samples: Path) -> str:
    """A flask of the test's own."""
    made = server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes())
    return str(made.json()["id"])
