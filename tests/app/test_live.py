"""The live channel: everything that happens, told to everybody; previews that leave no trace."""

from __future__ import annotations

from typing import Any

import pytest
from websockets.exceptions import ConnectionClosed, InvalidStatus
from websockets.sync.client import connect

from tests.app.server import PATIENCE, Server, set_offset
from tests.closeness import assert_close
from tests.core.design.designs import wedged
from wander.core.design.reading import write_document


def preview(number: int, base: int, *edits: dict[str, Any]) -> dict[str, Any]:
    return {"type": "preview", "number": number, "base_revision": base, "edits": list(edits)}


def test_a_listener_gets_everything_there_is(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        assert live.until(lambda e: e["type"] == "revised")["document"]["name"] == "Tarn flask"
        live.done()
    with server.live(tarn) as live:
        snapshot = live.until(lambda e: e["type"] == "snapshot")
        assert snapshot["complete"]
        assert len(snapshot["steps"]) == 13
        assert {s["state"] for s in snapshot["steps"]} == {"ready"}


def test_an_edit_is_told_with_its_body_and_then_the_kernels_word(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        before = live.step("loft-13")
        server.edit(tarn, 1, set_offset("station-7", 140.0))
        after = live.step("loft-13", revision=2)
        assert after["mesh"] != before["mesh"]
        assert after["summary"]["volume"] != before["summary"]["volume"]
        assert after["summary"]["run"][3]["at"] == 140.0
        solid = live.until(lambda e: e["type"] == "solid" and e["key"] == after["key"])
        assert solid["valid"]
        assert_close(solid["volume"], after["summary"]["volume"], within=1e-6 * solid["volume"])


def test_a_skin_that_runs_through_itself_is_told_with_the_kernels_word(server: Server) -> None:
    """And a fresh load tells the same."""
    design = server.client.post("/api/designs/file", content=write_document(wedged())).json()["id"]
    with server.live(design) as live:
        told = live.until(lambda e: e["type"] == "solid" and e["step"] == "loft-5")
        [finding] = told["findings"]
        assert (finding["code"], finding["step"]) == ("skin-crosses", "loft-5")
        assert finding["where"]["points"]
    with server.live(design) as live:
        snapshot = live.until(lambda e: e["type"] == "snapshot")
        assert [solid["findings"] for solid in snapshot["solids"]] == [told["findings"]]


def test_only_what_changed_is_told(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        server.edit(tarn, 1, set_offset("station-7", 140.0))
        told = []

        def listen(event: dict[str, Any]) -> bool:
            if event["type"] == "step" and event["revision"] == 2:
                told.append(event["step"]["id"])
            return event["type"] == "done" and event["revision"] == 2

        live.until(listen)
        assert told == ["station-7", "section-8", "loft-13"]


def test_a_preview_is_seen_and_leaves_no_trace(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        before = live.step("loft-13")
        live.send(preview(1, 1, set_offset("station-7", 120.0)))
        shown = live.step("loft-13", preview=1)
        assert shown["summary"]["volume"] != before["summary"]["volume"]
        live.send(preview(2, 1))
        back = live.step("loft-13", preview=2)
        assert back["key"] == before["key"]
    assert server.read(tarn)["revision"] == 1
    with server.live(tarn) as live:
        kept = live.until(lambda e: e["type"] == "snapshot")
        assert next(s for s in kept["steps"] if s["id"] == "loft-13")["key"] == before["key"]


def test_what_was_previewed_and_is_then_kept_is_not_computed_again(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        live.send(preview(7, 1, set_offset("station-7", 121.25)))
        shown = live.step("loft-13", preview=7)
        server.edit(tarn, 1, set_offset("station-7", 121.25))
        live.until(lambda e: e["type"] == "solid" and e["key"] == shown["key"])


def test_the_combs_of_a_preview_are_those_of_what_it_shows(server: Server, tarn: str) -> None:
    """Before it is kept and when its shape is known from before, too."""
    with server.live(tarn) as live:
        live.done()
        seen = []
        for number in (1, 2):
            live.send({**preview(number, 1, set_offset("station-7", 131.5)), "combed": "loft-13"})
            seen.append(live.until(lambda e, n=number: e["type"] == "combed" and e["preview"] == n)["combs"])
            live.send(preview(number + 10, 1))
            live.until(lambda e, n=number + 10: e["type"] == "done" and e["preview"] == n)
        before = server.client.get(f"/api/designs/{tarn}/bodies/loft-13/combs").json()
        server.edit(tarn, 1, set_offset("station-7", 131.5))
    kept = server.client.get(f"/api/designs/{tarn}/bodies/loft-13/combs").json()
    assert seen == [kept, kept]
    assert before != kept


def test_of_a_burst_of_previews_the_newest_wins(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        for i in range(60):
            live.send(preview(i, 1, set_offset("station-7", 110.0 + i / 4)))
        seen = []

        def last(event: dict[str, Any]) -> bool:
            # a snapshot may know that the first build is complete just before that is told
            if event["type"] == "done" and event["preview"] is not None:
                seen.append(event["preview"])
            return event["type"] == "done" and event["preview"] == 59

        live.until(last)
        assert seen == sorted(seen)
        assert len(seen) < 60, "previews that were overtaken are dropped"


ASTRAY = preview(3, 1, set_offset("station-99", 1.0))
HARMFUL = preview(3, 1, set_offset("station-7", "import os"))


@pytest.mark.parametrize("message", ["no json", "{}", '{"type": "preview", "number": 1}', ASTRAY, HARMFUL])
def test_a_bad_preview_is_refused_and_the_channel_stays_open(server: Server, tarn: str, message: Any) -> None:
    with server.live(tarn) as live:
        live.done()
        live.send(message)
        assert live.until(lambda e: e["type"] == "preview-refused")["detail"]
        live.send(preview(4, 1, set_offset("station-7", 125.0)))
        assert live.step("loft-13", preview=4)["state"] == "ready"


def test_a_preview_on_an_old_base_is_refused_and_not_shown(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        server.edit(tarn, 1, set_offset("station-7", 126.0))
        live.until(lambda e: e["type"] == "done" and e["revision"] == 2)
        live.send(preview(1, 1, set_offset("station-7", 100.0)))
        refused = live.until(lambda e: e["type"] == "preview-refused")
        assert (refused["preview"], refused["detail"]) == (1, "The design has changed meanwhile.")
        live.send(preview(2, 2, set_offset("station-7", 127.0)))
        assert live.until(lambda e: e["type"] == "done")["preview"] == 2


def test_a_preview_on_what_an_undo_came_back_to_is_one_on_an_old_base(server: Server, tarn: str) -> None:
    """What a window asked for before it kept a change and took it back at once may be heard only now."""
    with server.live(tarn) as live:
        live.done()
        before = server.read(tarn)["changed"]
        server.edit(tarn, 1, set_offset("station-7", 126.0))
        back = server.client.post(f"/api/designs/{tarn}/undo", json={"base_revision": 2}).json()
        assert back["revision"] == 1
        live.until(lambda e: e["type"] == "done" and (e["revision"], e["preview"]) == (1, None))
        live.send({**preview(1, 1, set_offset("station-7", 126.0)), "since": before})
        assert live.until(lambda e: e["type"] in ("step", "done", "preview-refused"))["type"] == "preview-refused"
        live.send({**preview(2, 1, set_offset("station-7", 127.0)), "since": back["changed"]})
        assert live.until(lambda e: e["type"] in ("done", "preview-refused"))["type"] == "done"


def test_two_windows_both_follow(server: Server, tarn: str) -> None:
    with server.live(tarn) as one, server.live(tarn) as other:
        server.edit(tarn, 1, set_offset("station-7", 128.0))
        for window in (one, other):
            assert window.until(lambda e: e["type"] == "revised" and e["revision"] == 2)["undo"]
            assert window.step("loft-13", revision=2)["state"] == "ready"


def test_a_failed_step_keeps_its_last_good_shape(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        good = live.step("loft-13")
        server.edit(tarn, 1, set_offset("station-7", 190.0))
        failed = live.step("loft-13", revision=2)
        assert failed["state"] == "failed"
        assert failed["last_good"] == good["mesh"]
        assert failed["findings"][0]["code"] == "out-of-order"
    with server.live(tarn) as live:
        snapshot = live.until(lambda e: e["type"] == "snapshot")
        assert next(s for s in snapshot["steps"] if s["id"] == "loft-13")["last_good"] == good["mesh"]


def test_strangers_and_unknown_designs_get_no_channel(server: Server, tarn: str) -> None:
    address = f"ws://127.0.0.1:{server.port}/api/designs"
    with pytest.raises(InvalidStatus):
        connect(f"{address}/{tarn}/live", origin="http://evil.example")
    with pytest.raises((InvalidStatus, ConnectionClosed)), connect(f"{address}/nothing/live") as socket:
        socket.recv(timeout=PATIENCE)


def test_the_mesh_of_a_preview_comes_along_by_itself(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        live.send(preview(1, 1, set_offset("station-7", 119.75)))
        mesh = live.step("loft-13", preview=1)["mesh"]
        assert live.handed[mesh] == server.client.get(f"/api/meshes/{mesh}").content


def test_the_shape_is_told_before_its_numbers(server: Server, tarn: str) -> None:
    with server.live(tarn) as live:
        live.done()
        live.send(preview(1, 1, set_offset("station-7", 119.25)))
        # words on what is kept may still be on their way: they can stand in line behind a snapshot that has them already
        shape = live.until(lambda e: e.get("preview") == 1 and (e["type"] == "shaped" or (e["type"] == "step" and e["step"]["id"] == "loft-13")))
        assert shape["type"] == "shaped"
        assert shape["mesh"] in live.handed
        assert live.step("loft-13", preview=1)["mesh"] == shape["mesh"]
        live.send(preview(2, 1))
        back = live.step("loft-13", preview=2)["mesh"]
        assert back in live.handed, "what was known before comes along too"
