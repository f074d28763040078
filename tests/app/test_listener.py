"""What a window shows after any row of edits is what a window that is opened just now shows."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from typing import Any

import orjson
import pytest

from tests.app.server import Listener, Server
from tests.app.worked import worked
from tests.core.design.designs import circle
from tests.core.steps.test_bridge_step import bridged, two
from tests.soak import times

TOLD = ("state", "mesh", "summary", "findings", "values", "uses", "changes", "rough", "last_good")


class Window:
    """The part of a page that hears: what it knows of each step, of the bodies that stand, and of the revision."""

    def __init__(self, live: Listener) -> None:
        self._live = live
        self.steps: dict[str, dict[str, Any]] = {}
        self.standing: list[str] = []
        self._present: set[str] = set()

    def _hear(self, event: dict[str, Any]) -> None:
        match event["type"]:
            case "snapshot":
                self.steps = {status["id"]: status for status in event["steps"]}
                self.standing = event["standing"]
            case "revised":
                self._present = {step["id"] for step in event["document"]["steps"]}
                self.steps = {k: v for k, v in self.steps.items() if k in self._present}
            case "step":
                self.steps[event["step"]["id"]] = event["step"]
            case "done":
                self.standing = event["standing"]

    def until_built(self, revision: int) -> None:
        def built(event: dict[str, Any]) -> bool:
            self._hear(event)
            return event.get("revision") == revision and (
                (event["type"] == "done" and event["exact"]) or (event["type"] == "snapshot" and event["complete"])
            )

        self._live.until(built)

    def shows(self) -> dict[str, Any]:
        return {
            "standing": self.standing,
            "steps": {k: {name: v[name] for name in TOLD} for k, v in self.steps.items() if k in self._present},
        }


def fresh(server: Server, design: str, revision: int) -> dict[str, Any]:
    with server.live(design) as live:
        window = Window(live)
        window.until_built(revision)
        return window.shows()


def some_edit(chance: random.Random, document: dict[str, Any]) -> list[dict[str, Any]]:
    """An edit that a designer makes, or would rather not have made."""
    steps = document["steps"]
    bodies = [s["id"] for s in steps if s["kind"] in ("loft", "extrude", "repeat", "bridge", "trim")]
    stations = [s["id"] for s in steps if s["kind"] == "station"]
    ways = [
        lambda: [{"do": "remove-step", "step": chance.choice(bodies)}] if bodies else [],
        lambda: [{"do": "remove-step", "step": chance.choice(steps)["id"]}],
        lambda: [{"do": "skip-step", "step": (s := chance.choice(steps))["id"], "skip": not s["skip"]}],
        lambda: [{"do": "set-param", "step": chance.choice(stations), "path": ["offset"], "value": chance.uniform(0, 120)}] if stations else [],
        lambda: [{"do": "build-up-to", "step": chance.choice([None, chance.choice(steps)["id"]])}],
        lambda: [{"do": "rename-step", "step": chance.choice(steps)["id"], "name": f"Name {chance.randrange(99)}"}],
    ]
    return chance.choice(ways)() if steps else []


def surfaces() -> bytes:
    """Two lofts with a bridge between them, a sheet copied off, trimmed and made thick, and measures of all that."""
    document = bridged(two(circle(40.0), circle(30.0)), ends="closed").model_dump(mode="json")
    side = [{"step": "loft-25", "part": "loft-25/side"}]
    parts = [{"step": "loft-5", "part": "loft-5/end:section-2"}, {"step": "trim-42"}]
    document["steps"] += [
        {"id": "offset-41", "kind": "offset", "name": "Skin", "params": {"body": {"step": "loft-25"}, "faces": side, "distance": 2.0}},
        {"id": "station-47", "kind": "station", "name": "Cut", "params": {"plane": "top", "offset": 72.0}},
        {
            "id": "trim-42",
            "kind": "trim",
            "name": "Half",
            "params": {"body": {"step": "offset-41"}, "by": {"type": "station", "station": {"step": "station-47"}}, "keep": "back"},
        },
        {"id": "wall-43", "kind": "wall", "name": "Thick", "params": {"body": {"step": "trim-42"}, "thickness": 1.0, "way": "outwards"}},
        {"id": "measure-44", "kind": "measure", "name": "Reach", "params": {"of": {"type": "distance", "parts": parts, "aim": {"target": 60.0}}}},
        {"id": "measure-45", "kind": "measure", "name": "Holds", "params": {"of": {"type": "volume", "body": {"step": "bridge-40"}}}},
    ]
    return orjson.dumps(document)


@pytest.mark.parametrize(("made", "seed", "edits"), [(worked, 11, (60, 2000)), (surfaces, 12, (30, 500))], ids=["bodies", "surfaces"])
def test_a_window_shows_what_a_fresh_one_shows(server: Server, made: Callable[[], bytes], seed: int, edits: tuple[int, int]) -> None:
    chance = random.Random(seed)
    design = str(server.client.post("/api/designs/file", content=made()).json()["id"])
    with server.live(design) as live:
        window, revision = Window(live), 1
        window.until_built(1)
        for number in range(times(*edits)):
            head = server.read(design)
            roll = chance.random()
            if roll < 0.3 and head["undo"]:
                answer = server.client.post(f"/api/designs/{design}/undo", json={"base_revision": revision})
            elif roll < 0.5 and head["redo"]:
                answer = server.client.post(f"/api/designs/{design}/redo", json={"base_revision": revision})
            elif some := some_edit(chance, head["document"]):
                answer = server.edit(design, revision, *some)
            else:
                answer = server.client.post(f"/api/designs/{design}/undo", json={"base_revision": revision})
            if answer.status_code != 200 or answer.json()["revision"] == revision:
                continue  # refused, or nothing was changed
            revision = answer.json()["revision"]
            window.until_built(revision)
            assert window.shows() == fresh(server, design, revision), (number, json.dumps(answer.json()["document"])[:400])
