"""What a window shows after any row of edits is what a window that is opened just now shows."""

from __future__ import annotations

import json
import random
from typing import Any

from tests.app.server import Listener, Server
from tests.app.worked import worked
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
    bodies = [s["id"] for s in steps if s["kind"] in ("loft", "extrude", "repeat")]
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


def test_a_window_shows_what_a_fresh_one_shows(server: Server) -> None:
    chance = random.Random(11)
    design = str(server.client.post("/api/designs/file", content=worked()).json()["id"])
    with server.live(design) as live:
        window, revision = Window(live), 1
        window.until_built(1)
        for number in range(times(60, 2000)):
            head = server.read(design)
            roll = chance.random()
            if roll < 0.3 and head["undo"]:
                answer = server.client.post(f"/api/designs/{design}/undo", json={"base_revision": revision})
            elif roll < 0.5 and head["redo"]:
                answer = server.client.post(f"/api/designs/{design}/redo", json={"base_revision": revision})
            elif edits := some_edit(chance, head["document"]):
                answer = server.edit(design, revision, *edits)
            else:
                answer = server.client.post(f"/api/designs/{design}/undo", json={"base_revision": revision})
            if answer.status_code != 200 or answer.json()["revision"] == revision:
                continue  # refused, or nothing was changed
            revision = answer.json()["revision"]
            window.until_built(revision)
            assert window.shows() == fresh(server, design, revision), (number, json.dumps(answer.json()["document"])[:400])
