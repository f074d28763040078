"""What makes the server quick to start and a drag quick to follow, as facts rather than as times."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from websockets.sync.client import ClientConnection, connect

from tests.app.server import Server, set_offset
from wander.app.engine import worker
from wander.app.engine.lane import WorkerSetup
from wander.app.engine.messages import Answer, BuildRequest, Finished, Shaped, Started


def test_a_server_loads_nothing_that_it_does_not_compute_with() -> None:
    heavy = ["scipy.interpolate", "scipy.linalg", "scipy.sparse", "OCP", "ezdxf", "PIL", "trimesh"]
    code = f"import sys, wander.app.serve, wander.app.api.application; print(*(m for m in {heavy} if m in sys.modules))"
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    assert out.split() == []


def mesh_of(server: Server, live: ClientConnection, number: int, base: int, design: str, offset: float) -> tuple[str, bytes]:
    """The key and the data of the mesh that a preview gives."""
    edit = set_offset("station-7", offset)
    live.send(json.dumps({"type": "preview", "number": number, "base_revision": base, "edits": [edit]}))
    found: tuple[str, bytes] | None = None
    while True:
        message = live.recv(timeout=30)
        if isinstance(message, bytes):
            found = message[:32].decode(), message[32:]
        elif json.loads(message)["type"] == "done" and json.loads(message)["preview"] == number:
            assert found is not None
            return found


def test_a_body_that_is_pulled_about_has_a_coarser_mesh_and_the_fine_one_when_it_is_let_go(server: Server, tarn: str) -> None:
    with connect(server.url.replace("http", "ws") + f"/api/designs/{tarn}/live", origin=server.url, max_size=None) as live:  # type: ignore[arg-type]
        while json.loads(live.recv(timeout=30))["type"] != "snapshot":
            pass
        moving, coarse = mesh_of(server, live, 1, 1, tarn, 128.0)
    server.edit(tarn, 1, set_offset("station-7", 128.0))
    with server.live(tarn) as told:
        # the window that is gone left a pull behind, which is put back: that is done as well
        told.until(lambda e: (e["type"] == "snapshot" and e["complete"]) or (e["type"] == "done" and (e["revision"], e["preview"]) == (2, None)))
    with server.live(tarn) as told:
        steps = told.until(lambda e: e["type"] == "snapshot")["steps"]
    kept = next(s["mesh"] for s in steps if s["id"] == "loft-13")
    assert kept != moving
    fine = server.client.get(f"/api/meshes/{kept}").content
    assert len(coarse) < 0.6 * len(fine)


class Heard:
    """A pipe that gives a worker its requests and keeps its answers."""

    def __init__(self, *requests: BuildRequest) -> None:
        self._requests = list(requests)
        self.answers: list[Answer] = []

    def recv(self) -> BuildRequest:
        if not self._requests:
            raise EOFError
        return self._requests.pop(0)

    def poll(self) -> bool:
        return False

    def send(self, answer: Answer) -> None:
        self.answers.append(answer)


@pytest.mark.parametrize("quick", [True, False])
def test_what_changed_before_a_body_comes_with_its_shape_where_that_is_quick(
    tmp_path: Path, samples: Path, monkeypatch: pytest.MonkeyPatch, quick: bool
) -> None:
    monkeypatch.setattr(worker, "QUICK", 1e9 if quick else 0.0)
    raw = json.loads((samples / "tarn.json").read_text())
    requests = []
    for number, offset in enumerate((132.0, 131.0, 130.0)):
        next(s for s in raw["steps"] if s["id"] == "station-7")["params"]["offset"] = offset
        requests.append(BuildRequest(number, "d", json.dumps(raw).encode(), number > 0))
    pipe = Heard(*requests)
    setup = WorkerSetup(str(tmp_path), 64, 64, 4096, 380, faults=False, kernel=False)
    worker.Worker(pipe, setup).run()  # type: ignore[arg-type]
    last = [answer for answer in pipe.answers if answer.job == 2]
    started = next(a for a in last if isinstance(a, Started) and a.step == "loft-13")
    shaped = next(a for a in last if isinstance(a, Shaped))
    told_before, told_with = ([step.step for step in answer.done] for answer in (started, shaped))
    assert ("section-8" in told_with) is quick
    assert ("section-8" in told_before) is not quick
    everything = [step.step for a in last if isinstance(a, Started | Shaped | Finished) for step in a.done]
    assert everything == [step["id"] for step in raw["steps"]], "every step once, in order"
