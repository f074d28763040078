"""What must survive: the server killed in the middle of a burst, workers that crash, hang or hoard."""

from __future__ import annotations

import json
import random
import sqlite3
import threading
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.app.server import PATIENCE, Nursery, Server, set_offset, wait_until
from tests.soak import times


def test_kill_9_in_a_burst_of_edits_loses_nothing_that_was_acknowledged(tmp_path: Path, samples: Path) -> None:
    server = Server(tmp_path).start()
    design = server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"]
    acknowledged: list[tuple[int, float]] = []

    def burst() -> None:
        revision = 1
        with httpx.Client(base_url=server.url, timeout=PATIENCE) as client:
            for i in range(200):
                value = 100.0 + i / 10
                body = {"base_revision": revision, "edits": [set_offset("station-7", value)]}
                try:
                    answer = client.post(f"/api/designs/{design}/edits", json=body)
                except httpx.TransportError:
                    return
                revision = answer.json()["revision"]
                acknowledged.append((revision, value))

    sender = threading.Thread(target=burst)
    sender.start()
    wait_until(lambda: len(acknowledged) >= 60)
    server.kill()
    sender.join()
    assert 60 <= len(acknowledged) <= 200

    with sqlite3.connect(tmp_path / "wander.sqlite3") as database:
        assert database.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        rows = database.execute("SELECT number, document FROM revision ORDER BY number").fetchall()
    kept = {number: json.loads(document) for number, document in rows}
    for revision, value in acknowledged:
        assert kept[revision]["steps"][6]["params"]["offset"] == value
    # at most the one edit that was on its way when the power went
    assert len(kept) - 1 - len(acknowledged) in (0, 1)

    again = Server(tmp_path).start()
    try:
        head = again.read(design)
        assert head["revision"] == max(kept)
        assert head["document"]["steps"][6]["params"]["offset"] == kept[max(kept)]["steps"][6]["params"]["offset"]
        undone = again.client.post(f"/api/designs/{design}/undo", json={"base_revision": head["revision"]}).json()
        assert undone["revision"] == head["revision"] - 1
        with again.live(design) as live:
            live.done()
    finally:
        again.stop()


TURNS = {"crash": 0.25, "hang": 0.3, "memory": 0.35}
"""What brought a worker down is barred by what goes into it, whatever it is called: each fault has numbers of its own."""


def faulted(fault: str | None, turn: float) -> list[dict[str, Any]]:
    """Edits after which a section does what its name says when it is computed, or is itself again. A name alone has nothing computed."""
    name = {"do": "rename-step", "step": "section-8", "name": f"fault:{fault}" if fault else "Shoulder"}
    return [name, {"do": "set-param", "step": "section-8", "path": ["turn"], "value": turn}]


@pytest.fixture(scope="module")
def faulty(tmp_path_factory: pytest.TempPathFactory):
    running = Server(tmp_path_factory.mktemp("faulty"), faults="true", step_seconds="8", worker_megabytes="512").start("demo")
    yield running
    running.stop()


@pytest.mark.timeout(times(400, 3600))
@pytest.mark.parametrize("seed", [7, 8])
def test_killed_again_and_again_it_loses_nothing_that_was_acknowledged(tmp_path: Path, samples: Path, seed: int) -> None:
    """At any moment of a burst, undo and redo among the edits: what was answered is there, and so is the head.

    In two halves, so that two can be at it.
    """
    with Nursery(tmp_path) as nursery:
        kill_again_and_again(tmp_path, samples, random.Random(seed), nursery)


def kill_again_and_again(tmp_path: Path, samples: Path, chance: random.Random, nursery: Nursery) -> None:
    design = ""
    told: tuple[int, float] | None = None
    kills, acknowledged = times(25, 500), 0
    for number in range(kills + 1):
        server = Server(tmp_path).split_from(nursery)
        if not design:
            design = server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"]
        head = server.read(design)
        depth = float(head["document"]["steps"][6]["params"]["offset"])
        if told is not None:
            # at most the one that was on its way is there beyond what was answered
            assert head["revision"] == told[0] or on_its_way(tmp_path, design, told[0], head["revision"]), (number, told, head["revision"])
            assert head["revision"] != told[0] or depth == told[1], (number, told, depth)
        if number == kills:
            server.stop()
            break
        told = (head["revision"], depth)
        # some of them before anything is answered, and none by a clock alone: on a slow machine nothing would be
        answers = burst_until(server, design, head, chance, answered=chance.randint(0, 4), seconds=chance.uniform(0.01, 0.1))
        acknowledged += len(answers)
        told = answers[-1] if answers else told
    assert acknowledged > kills


def burst_until(
    server: Server, design: str, head: dict[str, Any], chance: random.Random, *, answered: int, seconds: float
) -> list[tuple[int, float]]:
    """Edits, undos and redos one after the other; the revision and the depth of each that was answered.

    The server is killed some seconds after so many of them were answered.
    """
    answers: list[tuple[int, float]] = []
    enough = threading.Event()
    ways = [(chance.random(), round(chance.uniform(50, 150), 3)) for _ in range(400)]

    def send() -> None:
        revision, undo, redo = head["revision"], head["undo"], head["redo"]
        with httpx.Client(base_url=server.url, timeout=PATIENCE) as client:
            for roll, depth in ways:
                way = "undo" if roll < 0.15 and undo else "redo" if roll < 0.25 and redo else "edits"
                body = {"base_revision": revision, **({"edits": [set_offset("station-7", depth)]} if way == "edits" else {})}
                try:
                    found = client.post(f"/api/designs/{design}/{way}", json=body).json()
                except (httpx.TransportError, json.JSONDecodeError):
                    return
                revision, undo, redo = found["revision"], found["undo"], found["redo"]
                answers.append((revision, float(found["document"]["steps"][6]["params"]["offset"])))
                if len(answers) >= answered:
                    enough.set()

    sender = threading.Thread(target=send)
    sender.start()
    if answered:
        assert enough.wait(PATIENCE)
    sender.join(seconds)
    server.kill()
    sender.join()
    return answers


def on_its_way(folder: Path, design: str, last: int, found: int) -> bool:
    """Whether one step leads from the head that was answered last to the one that is there: an edit made on it, or back to its parent."""
    with sqlite3.connect(folder / "wander.sqlite3") as database:
        parents = dict(database.execute("SELECT number, parent FROM revision WHERE design_id = ?", (design,)).fetchall())
    return parents.get(found) == last or parents.get(last) == found


@pytest.mark.parametrize(("fault", "told"), [("crash", "went down"), ("hang", "longer than 8 s"), ("memory", "memory")])
def test_a_step_that_takes_its_worker_down_harms_nobody_else(faulty: Server, samples: Path, fault: str, told: str) -> None:
    raw = (samples / "tarn.json").read_bytes()
    mine, other = (faulty.client.post("/api/designs/file", content=raw).json()["id"] for _ in range(2))
    with faulty.live(mine) as live, faulty.live(other) as neighbour:
        good = live.step("loft-13")
        live.done()
        neighbour.done()
        assert faulty.edit(mine, 1, *faulted(fault, TURNS[fault])).status_code == 200
        # whoever works beside it goes on, at the latest when the worker has come back
        assert faulty.edit(other, 1, set_offset("station-7", 140.0)).status_code == 200
        failed = live.step("section-8", revision=2)
        assert failed["state"] == "failed"
        assert failed["findings"][0]["code"] == "gave-up"
        assert told in failed["findings"][0]["detail"]
        waiting = live.step("loft-13", revision=2)
        assert waiting["state"] == "waiting"
        assert waiting["last_good"] == good["mesh"]
        assert neighbour.step("loft-13", revision=2)["state"] == "ready"

        # the same input is not tried again on its own: this build is quick, and says the same
        assert faulty.edit(mine, 2, set_offset("station-1", -1.0)).status_code == 200
        live.until(lambda e: e["type"] == "done" and e["revision"] == 3)

        # settled, everything is built again
        assert faulty.edit(mine, 3, *faulted(None, 0.0)).status_code == 200
        assert live.step("loft-13", revision=4)["state"] == "ready"


def test_work_can_be_stopped_by_hand(faulty: Server, samples: Path) -> None:
    design = faulty.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"]
    with faulty.live(design) as live:
        live.done()
        # a turn of its own: what hung once is not tried again
        faulty.edit(design, 1, *faulted("hang", 0.5))
        live.until(lambda e: e["type"] == "working" and e["step"] == "section-8")
        assert faulty.client.post(f"/api/designs/{design}/stop").status_code == 204
        assert "stopped by hand" in live.step("section-8", revision=2)["findings"][0]["detail"]


def test_the_cache_may_be_deleted_while_the_server_runs(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        mesh = live.step("loft-13")["mesh"]
    for path in (server.data / "cache" / "meshes").glob("*.glb"):
        path.unlink()
    assert server.client.get(f"/api/meshes/{mesh}").status_code == 404
    with server.live(tarn) as live:
        live.done()
    assert server.client.get(f"/api/meshes/{mesh}").status_code == 200


def test_designs_and_history_survive_a_polite_restart(tmp_path: Path) -> None:
    first = Server(tmp_path).start("demo")
    tarn = first.designs()["Tarn flask"]
    first.edit(tarn, 1, set_offset("station-7", 131.0))
    first.stop()
    second = Server(tmp_path).start("demo")
    try:
        assert second.read(tarn)["revision"] == 2
        assert sorted(second.designs()) == ["Bailer spout", "Coaming", "Merganser blade", "Plover grip", "Skua hull", "Tarn flask"]
        undone = second.client.post(f"/api/designs/{tarn}/undo", json={"base_revision": 2}).json()
        assert undone["document"]["steps"][6]["params"]["offset"] == 132.0
    finally:
        second.stop()


def test_a_step_that_takes_long_is_said_to_be_at_work(tmp_path: Path, samples: Path) -> None:
    """Quick steps are not announced; one that hangs is, with the time so far, until it is stopped."""
    server = Server(tmp_path, faults="true", step_seconds="60").start()
    try:
        document = json.loads((samples / "tarn.json").read_bytes())
        design = server.client.post("/api/designs/file", content=json.dumps(document)).json()["id"]
        with server.live(design) as live:
            live.done()
            server.edit(design, 1, *faulted("hang", 0.25))
            word = live.until(lambda e: e["type"] == "working")
            assert (word["step"], word["preview"]) == ("section-8", None)
            assert 0.3 < word["seconds"] < 10
            assert server.client.post(f"/api/designs/{design}/stop").status_code == 204
            assert "stopped by hand" in live.step("section-8", revision=2)["findings"][0]["detail"]
    finally:
        server.stop()
