"""Nobody waits for somebody else's heavy design, nor for a file that somebody brought."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.app.server import Listener, Server, answered_within, set_offset
from tests.app.test_bodies import design as blocks
from tests.app.test_drawings import bring as brought

AT_MOST = 0.3
"""Seconds by which another design may be delayed."""


@pytest.fixture
def hanging(tmp_path: Path) -> Iterator[Server]:
    """A server on which steps can be made to take for ever, without anybody giving them up."""
    running = Server(tmp_path, faults="true", step_seconds="120").start()
    yield running
    running.stop()


def usual(server: Server, samples: Path) -> str:
    return str(server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"])


class Edits:
    """Edits of a design, each heard to its end."""

    def __init__(self, server: Server, design: str, live: Listener, station: str, start: float, *, exact: bool = False) -> None:
        self.server, self.design, self.live, self.station, self.at, self.exact = server, design, live, station, start, exact
        self.revision = server.read(design)["revision"]

    def another(self) -> None:
        self.at += 0.125
        self.revision = self.server.edit(self.design, self.revision, set_offset(self.station, self.at)).json()["revision"]
        self.live.until(lambda e: e["type"] == "done" and e["revision"] == self.revision and (e["exact"] or not self.exact))


def hang(server: Server, design: str, step: str, station: str, offset: float) -> None:
    """From now on this step takes for ever."""
    head = server.read(design)
    server.edit(design, head["revision"], {"do": "rename-step", "step": step, "name": "fault:hang"}, set_offset(station, offset))


def taken(what: Callable[[], object]) -> float:
    """Seconds."""
    begun = time.monotonic()
    what()
    return time.monotonic() - begun


def at_work(live: Listener, step: str) -> None:
    live.until(lambda e: e["type"] == "working" and e["step"] == step)


def test_designs_that_take_for_ever_delay_nobody(hanging: Server, samples: Path) -> None:
    mine = usual(hanging, samples)
    heavy = [usual(hanging, samples) for _ in range(3)]
    with hanging.live(mine) as live:
        live.done()
        edits = Edits(hanging, mine, live, "station-7", 128.0)
        edits.another()
        alone = min(taken(edits.another) for _ in range(3))
        for i, other in enumerate(heavy):
            with hanging.live(other) as there:
                there.done()
                hang(hanging, other, "loft-13", "station-7", 140.0 + i)
                at_work(there, "loft-13")
            # their work goes on when nobody looks
            answered_within(alone + AT_MOST, edits.another)


def test_a_heavy_join_delays_no_other_exact_body(hanging: Server) -> None:
    mine, other = blocks(hanging), blocks(hanging)
    with hanging.live(mine) as live, hanging.live(other) as there:
        for listener in (live, there):
            listener.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
        exact = Edits(hanging, mine, live, "station-4", -5.0, exact=True)
        exact.another()
        hang(hanging, other, "extrude-6", "station-4", -1.5)
        at_work(there, "extrude-6")
        # two seconds is the bar of the exact body by itself: whoever waited for the other would wait for minutes
        answered_within(2.0, exact.another)
        shape = Edits(hanging, mine, live, "station-4", exact.at)
        answered_within(AT_MOST, shape.another)


HOSTILE: list[tuple[bytes, str]] = [
    (b"0\nSECTION\n2\nENTITIES\n" + b"0\nLINE\n10\n1.0\n20\n2.0\n11\n3.0\n21\n4.0\n" * 300_000 + b"0\nENDSEC\n0\nEOF\n", "many.dxf"),
    (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0' + b"C1 2 3 4 5 6" * 800_000 + b'"/></svg>', "many.svg"),
]


@pytest.mark.parametrize(("data", "name"), HOSTILE, ids=["dxf", "svg"])
def test_a_file_that_is_being_read_delays_nobody(server: Server, samples: Path, data: bytes, name: str) -> None:
    mine, other = usual(server, samples), usual(server, samples)
    server.edit(other, 1, {"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing"}})
    stop = threading.Event()
    told: list[Any] = []

    def bring() -> None:
        while not stop.is_set():
            told.append(brought(server, other, data, name).json().get("code"))

    with server.live(mine) as live:
        live.done()
        edits = Edits(server, mine, live, "station-7", 128.0)
        edits.another()
        reader = threading.Thread(target=bring)
        reader.start()
        try:
            for _ in range(3):
                answered_within(AT_MOST, edits.another)
        finally:
            stop.set()
            reader.join()
    assert told
    assert set(told) == {"file-refused"}, "read, and found to be too much"
