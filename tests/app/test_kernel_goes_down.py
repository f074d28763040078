"""The kernel crashes or hangs at what is done to bodies: the step says so within its limit, what was good stays, the rest of the design lives."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.app.server import Server
from tests.core.solids.test_kernel_gone_wrong import LATE, design
from tests.soak import times

TRIED = [*[(late, "crash") for late in LATE], *[(late, "hang") for late in list(LATE)[:: times(4, 1)]]]


@pytest.fixture(scope="module")
def faulty(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    running = Server(tmp_path_factory.mktemp("faulty"), faults="true", step_seconds="4").start()
    yield running
    running.stop()


@pytest.mark.parametrize(("late", "fault"), TRIED)
def test_the_step_says_so_and_the_rest_lives(faulty: Server, late: str, fault: str) -> None:
    raw = design(late).model_dump(mode="json")
    # what went down is not tried again on its own: every try has a body of its own size
    raw["steps"][2]["params"]["offset"] = 50.0 + TRIED.index((late, fault)) / 8
    step = raw["steps"][-1]
    made = faulty.client.post("/api/designs/file", json={**raw, "name": f"{late} {fault}"}).json()["id"]
    with faulty.live(made) as live:
        live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
    revision = faulty.read(made)["revision"]
    with faulty.live(made) as live:
        good = {status["id"]: status for status in live.until(lambda e: e["type"] == "snapshot")["steps"]}
        assert good[step["id"]]["state"] == "ready", good[step["id"]]["findings"]
        change = {"do": "set-param", "step": "station-3", "path": ["offset"], "value": raw["steps"][2]["params"]["offset"] + 1 / 16}
        name = {"do": "rename-step", "step": step["id"], "name": f"fault:{fault}, exact"}
        assert faulty.edit(made, revision, change, name).status_code == 200
        failed = live.until(lambda e: e["type"] == "step" and e["step"]["id"] == step["id"] and e["step"]["state"] == "failed")["step"]
        assert failed["findings"][0]["code"] == "gave-up"
        assert ("went down" if fault == "crash" else "longer than 4 s") in failed["findings"][0]["detail"]
        assert faulty.client.get(f"/api/meshes/{failed['last_good']}").content[:4] == b"glTF"
        done = live.until(lambda e: e["type"] == "done" and e["revision"] == revision + 1 and e["exact"])
        assert "loft-5" in done["standing"]
        # and on it goes: named as before and otherwise a little
        further = {**change, "value": change["value"] + 1 / 32}
        assert faulty.edit(made, revision + 1, further, {**name, "name": step["name"]}).status_code == 200
        live.until(lambda e: e["type"] == "step" and e["step"]["id"] == step["id"] and e["step"]["state"] == "ready" and not e["step"]["rough"])
