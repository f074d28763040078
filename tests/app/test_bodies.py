"""Bodies that are put together, over the live channel: the preview first, the exact body after it, and what must survive."""

from __future__ import annotations

import json
import os
import random
import signal
from contextlib import suppress
from math import pi
from pathlib import Path
from typing import Any

import psutil

from tests.app.server import Server, set_offset, wait_until
from tests.closeness import assert_close
from tests.soak import times


def design(server: Server) -> str:
    """A block with a hole bored through it and three copies: stations 1 and 3 move the block's and the bore's drawings."""
    steps: list[dict[str, Any]] = []

    def add(kind: str, number: int, params: dict[str, Any]) -> None:
        steps.append({"id": f"{kind}-{number}", "kind": kind, "name": f"{kind} {number}", "params": params})

    add("station", 1, {"plane": "top", "offset": 0.0})
    add("section", 2, {"station": {"step": "station-1"}, "shape": {"type": "rectangle", "width": 40.0, "depth": 40.0}})
    add("extrude", 3, {"section": {"step": "section-2"}, "distance": 20.0})
    add("station", 4, {"plane": "top", "offset": -5.0})
    add("section", 5, {"station": {"step": "station-4"}, "shape": {"type": "circle", "diameter": 10.0}})
    add("extrude", 6, {"section": {"step": "section-5"}, "distance": 15.0, "result": {"type": "cut", "body": {"step": "extrude-3"}}})
    add("repeat", 7, {"body": {"step": "extrude-6"}, "count": 3, "way": {"type": "line", "by": [60.0, 0.0, 0.0]}})
    raw = {"format": "wander-design/1", "name": "Blocks", "steps": steps, "next": 8}
    return str(server.client.post("/api/designs/file", content=json.dumps(raw)).json()["id"])


def volume(depth: float) -> float:
    """Of the three blocks with their blind holes of this depth."""
    return 3 * (40 * 40 * 20 - pi * 25 * depth)


def test_the_preview_comes_first_and_the_exact_body_follows(server: Server) -> None:
    made = design(server)
    with server.live(made) as live:
        live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
        server.edit(made, 1, set_offset("station-4", -3.0))
        rough = live.step("repeat-7", revision=2)
        assert rough["rough"]
        assert rough["summary"]["source"] == "mesh"
        first = live.until(lambda e: e["type"] == "done" and e["revision"] == 2)
        assert first["exact"] is False
        assert first["standing"] == ["repeat-7"]
        exact = live.step("repeat-7", revision=2)
        assert not exact["rough"]
        assert exact["summary"]["source"] == "kernel"
        assert_close(exact["summary"]["volume"], volume(12.0), within=1e-6 * volume(12.0))
        assert_close(rough["summary"]["volume"], volume(12.0), within=0.01 * volume(12.0))
        assert live.until(lambda e: e["type"] == "done" and e["exact"])["standing"] == ["repeat-7"]


def test_a_drag_shows_what_stands_and_nothing_that_was_used_up(server: Server) -> None:
    made = design(server)
    with server.live(made) as live:
        live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
        live.send({"type": "preview", "number": 1, "base_revision": 1, "edits": [set_offset("station-4", -2.0)]})
        shown = {}

        def done(event: dict[str, Any]) -> bool:
            if event["type"] == "step":
                shown[event["step"]["id"]] = event["step"]["mesh"]
            return event["type"] == "done" and event["preview"] == 1

        assert live.until(done)["standing"] == ["repeat-7"]
        assert shown["repeat-7"] is not None
        assert shown["extrude-6"] is None


def test_what_was_pulled_about_and_put_back_is_told_as_it_is_kept(server: Server) -> None:
    """Exact bodies with their meshes, those that were used up with theirs: as somebody hears it who comes now."""
    made = design(server)
    with server.live(made) as live:
        told: dict[str, Any] = {}

        def heard(event: dict[str, Any]) -> None:
            if event["type"] in ("snapshot", "step"):
                told.update({step["id"]: step for step in (event["steps"] if "steps" in event else [event["step"]])})

        def at_rest(event: dict[str, Any]) -> bool:
            heard(event)
            return (event["type"] == "done" and event["exact"] and event["preview"] is None) or (event["type"] == "snapshot" and event["complete"])

        live.until(at_rest)
        live.send({"type": "preview", "number": 1, "base_revision": 1, "edits": [set_offset("station-4", -2.0)]})

        def previewed(event: dict[str, Any]) -> bool:
            heard(event)
            return event["type"] == "done" and event["preview"] == 1

        live.until(previewed)
        assert told["repeat-7"]["rough"]
        live.send({"type": "preview", "number": 2, "base_revision": 1, "edits": []})
        live.until(at_rest)
    with server.live(made) as live:
        fresh = live.until(lambda e: e["type"] == "snapshot")
    for step in fresh["steps"]:
        assert {**told[step["id"]], "ms": 0} == {**step, "ms": 0}
    assert not told["repeat-7"]["rough"]


def test_after_a_restart_nothing_is_computed(tmp_path: Path) -> None:
    first = Server(tmp_path).start()
    made = design(first)
    with first.live(made) as live:
        live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
    first.stop()
    second = Server(tmp_path).start()
    try:
        card = next(c for c in second.client.get("/api/designs").json() if c["id"] == made)
        assert not card["building"], "the rack is shown without building anything"
        assert_close(card["shown"]["volume"], volume(10.0), within=1e-6 * volume(10.0))
        assert second.client.get(f"/api/meshes/{card['shown']['meshes'][0]}").content[:4] == b"glTF"
        with second.live(made) as live:
            steps: dict[str, Any] = {}

            def complete(event: dict[str, Any]) -> bool:
                for status in event.get("steps", []) if event["type"] == "snapshot" else [event["step"]] if event["type"] == "step" else []:
                    steps[status["id"]] = status
                return (event["type"] == "done" and event["exact"]) or (event["type"] == "snapshot" and event["complete"])

            live.until(complete)
        assert all(status["ms"] == 0 for status in steps.values()), "everything was on the shelf"
        assert not any(status["rough"] for status in steps.values())
        assert_close(steps["repeat-7"]["summary"]["volume"], volume(10.0), within=1e-6 * volume(10.0))
    finally:
        second.stop()


def test_a_stop_is_no_opinion_and_can_be_tried_again(tmp_path: Path) -> None:
    server = Server(tmp_path, faults="true", step_seconds="60").start()
    try:
        made = design(server)
        with server.live(made) as live:
            live.until(lambda e: e["type"] == "done" and e["exact"])
            name = {"do": "rename-step", "step": "extrude-6", "name": "fault:hang"}
            server.edit(made, 1, name, set_offset("station-4", -1.0))
            live.until(lambda e: e["type"] == "working" and e["step"] == "extrude-6")
            server.client.post(f"/api/designs/{made}/stop")
            failed = live.until(lambda e: e["type"] == "step" and e["step"]["id"] == "extrude-6" and e["step"]["state"] == "failed")["step"]
            assert failed["findings"][0]["code"] == "gave-up"
            assert failed["findings"][0]["fixes"][0]["again"]
            done = live.until(lambda e: e["type"] == "done" and e["revision"] == 2)
            assert done["standing"] == ["extrude-3"], "what it would have changed stands as it is"
            server.edit(made, 2, {"do": "rename-step", "step": "extrude-6", "name": "Bore"})
            live.until(lambda e: e["type"] == "done" and e["revision"] == 3)
            assert server.client.post(f"/api/designs/{made}/again").status_code == 204
            found = live.until(
                lambda e: e["type"] == "step" and e["step"]["id"] == "repeat-7" and e["step"]["state"] == "ready" and not e["step"]["rough"]
            )
            assert_close(found["step"]["summary"]["volume"], volume(14.0), within=1e-6 * volume(14.0))
    finally:
        server.stop()


def workers(server: Server) -> list[psutil.Process]:
    """Every process below the server: workers, and the one that they split from."""
    return [process for process in psutil.Process(server.pid).children(recursive=True) if lives(process)]


def lives(process: psutil.Process) -> bool:
    """Whether a process is still there; it may go while it is being looked at."""
    try:
        return bool(process.status() != psutil.STATUS_ZOMBIE)
    except psutil.NoSuchProcess:
        return False


def test_killed_workers_cost_nothing(tmp_path: Path) -> None:
    """Any worker, the process that they split from, or several, at any moment of 200 edits: the newest revision comes by itself, nobody is blamed."""
    chance, last = random.Random(1), times(200, 2000)
    server = Server(tmp_path).start()
    try:
        made = design(server)
        with server.live(made) as live:
            live.until(lambda e: e["type"] == "done" and e["exact"])
            for revision in range(1, last + 1):
                assert server.edit(made, revision, set_offset("station-4", -5.0 + 0.01 * (revision % 250))).status_code == 200
                if chance.random() < 0.15:
                    alive = workers(server)
                    for process in chance.sample(alive, min(len(alive), chance.choice([1, 1, 2]))):
                        with suppress(ProcessLookupError):
                            os.kill(process.pid, signal.SIGKILL)
        shown_in_the_end(server, made, last + 1, 10.0 + 0.01 * (last % 250))
    finally:
        server.stop()


def shown_in_the_end(server: Server, made: str, revision: int, depth: float) -> None:
    """The revision comes by itself, and no step is blamed."""
    with server.live(made) as live:
        blamed: list[Any] = []

        def last(event: dict[str, Any]) -> bool:
            told = event["steps"] if event["type"] == "snapshot" else [event["step"]] if event["type"] == "step" else []
            blamed.extend(s for s in told if s["state"] == "failed")
            return event.get("revision") == revision and (
                (event["type"] == "done" and event["exact"]) or (event["type"] == "snapshot" and event["complete"])
            )

        live.until(last)
        assert not blamed
    with server.live(made) as live:
        snapshot = live.until(lambda e: e["type"] == "snapshot")
        status = next(s for s in snapshot["steps"] if s["id"] == "repeat-7")
        assert_close(status["summary"]["volume"], volume(depth), within=1e-6 * volume(depth))


def test_a_server_with_few_file_descriptors_left_goes_on(tmp_path: Path) -> None:
    server = Server(tmp_path).start()
    try:
        made = design(server)
        process = psutil.Process(server.pid)
        with server.live(made) as live:
            live.until(lambda e: e["type"] == "done" and e["exact"])
            before = process.rlimit(psutil.RLIMIT_NOFILE)
            process.rlimit(psutil.RLIMIT_NOFILE, (process.num_fds() + 16, before[1]))
            for worker in workers(server):
                os.kill(worker.pid, signal.SIGKILL)
            for revision in range(1, 11):
                assert server.edit(made, revision, set_offset("station-4", -5.0 + 0.1 * revision)).status_code == 200
            process.rlimit(psutil.RLIMIT_NOFILE, before)
        shown_in_the_end(server, made, 11, 11.0)
    finally:
        server.stop()


def test_workers_end_with_their_server(tmp_path: Path) -> None:
    server = Server(tmp_path).start()
    design(server)
    wait_until(lambda: len(workers(server)) >= 3)
    below = workers(server)
    server.kill()
    wait_until(lambda: not any(lives(process) for process in below), 10)
