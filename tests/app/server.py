"""A real server in a process of its own, on a real database, for tests that talk to it."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
from websockets.sync.client import ClientConnection, connect

from tests.as_shaped import as_shaped

ROOT = Path(__file__).parents[2]
PATIENCE = 60.0
"""How long anything is waited for, s: a machine that many share may stand still for a while."""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Server:
    """Started with start(), ended with stop() (politely) or kill() (as a power cut would)."""

    def __init__(self, data: Path, **environment: str) -> None:
        self.data = data
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        own = {f"WANDER_{k.upper()}": v for k, v in environment.items()}
        self._environment = {**os.environ, "WANDER_DATA": str(data), "WANDER_SAMPLES": str(as_shaped()), **own}
        self._process: subprocess.Popen[bytes] | None = None
        self._split: int | None = None
        self.client = httpx.Client(base_url=self.url, timeout=PATIENCE)

    def split_from(self, nursery: Nursery) -> Server:
        """Started in a moment, as nothing has to be loaded."""
        self._split = nursery.split(self.port)
        wait_until(self._answers)
        return self

    def run_from(self, folder: Path) -> None:
        """What is installed in a folder is served, not the checkout."""
        self._environment["PYTHONPATH"] = str(folder)

    def start(self, command: str = "serve") -> Server:
        arguments = [sys.executable, "-m", "wander.cli.main", command, "--port", str(self.port)]
        # a session of its own, so that kill() takes the workers' parent with it
        self._process = subprocess.Popen(
            arguments, env=self._environment, start_new_session=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        wait_until(self._answers)
        return self

    def _answers(self) -> bool:
        assert self._there(), "the server ended by itself"
        try:
            return self.client.get("/api/health").status_code == 200
        except httpx.TransportError:
            return False

    def _there(self) -> bool:
        if self._split is None:
            return self._process is not None and self._process.poll() is None
        try:
            os.kill(self._split, 0)
        except ProcessLookupError:
            return False
        return True

    @property
    def pid(self) -> int:
        if self._split is not None:
            return self._split
        assert self._process is not None
        return self._process.pid

    def kill(self) -> None:
        os.kill(self.pid, signal.SIGKILL)
        wait_until(lambda: not self._there(), 10)
        self.client.close()

    def start_again(self) -> Server:
        """After a kill: on the same address, with the same designs."""
        self.client = httpx.Client(base_url=self.url, timeout=PATIENCE)
        return self.start()

    def stop(self) -> None:
        if self._split is not None:
            os.kill(self._split, signal.SIGTERM)
            wait_until(lambda: not self._there(), 15)
        if self._process is not None and self._process.poll() is None:
            self._process.terminate()
            try:
                self._process.wait(15)
            except subprocess.TimeoutExpired:
                self.kill()
        self.client.close()

    def designs(self) -> dict[str, str]:
        """Ids by name."""
        return {card["name"]: card["id"] for card in self.client.get("/api/designs").json()}

    def read(self, design: str) -> dict[str, Any]:
        return self.client.get(f"/api/designs/{design}").json()

    def edit(self, design: str, base: int, *edits: dict[str, Any]) -> httpx.Response:
        return self.client.post(f"/api/designs/{design}/edits", json={"base_revision": base, "edits": list(edits)})

    @contextmanager
    def live(self, design: str) -> Iterator[Listener]:
        with connect(f"ws://127.0.0.1:{self.port}/api/designs/{design}/live", max_size=None) as socket_:
            yield Listener(socket_)


class Nursery:
    """Servers on one folder of data, each split off from a process that has loaded everything."""

    def __init__(self, data: Path) -> None:
        arguments = [sys.executable, "-m", "tests.app.nursery"]
        environment = {**os.environ, "WANDER_DATA": str(data), "WANDER_SAMPLES": str(as_shaped())}
        self._process = subprocess.Popen(arguments, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, cwd=ROOT)

    def split(self, port: int) -> int:
        """The number of the process of a server for the port."""
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._process.stdin.write(f"{port}\n")
        self._process.stdin.flush()
        return int(self._process.stdout.readline())

    def __enter__(self) -> Nursery:
        return self

    def __exit__(self, *_: object) -> None:
        self._process.communicate(timeout=15)


class Listener:
    """The live channel of a design, heard event by event."""

    def __init__(self, connection: ClientConnection) -> None:
        self._connection = connection
        self._complete = False
        self.handed: dict[str, bytes] = {}
        """Meshes that came along by themselves, by key."""

    def until(self, wanted: Callable[[dict[str, Any]], bool]) -> dict[str, Any]:
        """The next event that is wanted; everything before it is dropped."""
        deadline = time.monotonic() + PATIENCE
        while True:
            message = self._connection.recv(timeout=deadline - time.monotonic())
            if isinstance(message, bytes):
                self.handed[message[:32].decode()] = message[32:]
                continue
            event: dict[str, Any] = json.loads(message)
            self._complete = event["type"] in ("done", "snapshot") and event.get("complete", True)
            if wanted(event):
                return event

    def step(self, step: str, **more: Any) -> dict[str, Any]:
        """The next word on a step; more: what its event must say. A complete snapshot is a word too."""

        def word(event: dict[str, Any]) -> dict[str, Any] | None:
            if event["type"] == "snapshot" and event["complete"] and not more:
                return next(status for status in event["steps"] if status["id"] == step)
            if event["type"] == "step" and event["step"]["id"] == step and all(event[k] == v for k, v in more.items()):
                return event["step"]
            return None

        found = word(self.until(lambda event: word(event) is not None))
        assert found is not None
        return found

    def done(self) -> None:
        """Everything is built, now or since the last event."""
        if self._complete:
            return
        self.until(lambda event: event["type"] == "done" or (event["type"] == "snapshot" and event["complete"]))

    def send(self, message: dict[str, Any] | str) -> None:
        self._connection.send(message if isinstance(message, str) else json.dumps(message))


def wait_until(true: Callable[[], bool], seconds: float = PATIENCE) -> None:
    """Ask again and again until it is true."""
    deadline = time.monotonic() + seconds
    pause = 0.005
    while not true():
        assert time.monotonic() < deadline, f"not true within {seconds:g} s"
        time.sleep(pause)
        pause = min(pause * 1.5, 0.1)


def answered_within(seconds: float, ask: Callable[[], object]) -> None:
    """The best of up to three tries counts: what is bounded is the work, not what else the machine is at."""
    took = []
    for _ in range(3):
        begun = time.monotonic()
        ask()
        took.append(time.monotonic() - begun)
        if took[-1] < seconds:
            return
    raise AssertionError(f"took {', '.join(f'{t:.1f}' for t in took)} s, not within {seconds:g} s")


def set_offset(station: str, value: Any) -> dict[str, Any]:
    return {"do": "set-param", "step": station, "path": ["offset"], "value": value}
