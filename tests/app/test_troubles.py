"""A folder, a disk or an address that can't be used: a line in words, nothing lost, and everything goes on afterwards."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
from pathlib import Path

import psutil
import pytest

from tests.app.server import Server, set_offset


def started(data: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    """A server that is expected to end at once."""
    command = [sys.executable, "-m", "wander.cli.main", "serve", *arguments]
    return subprocess.run(command, env={**os.environ, "WANDER_DATA": str(data)}, capture_output=True, text=True, timeout=30, check=False)


@pytest.fixture
def design(server: Server, samples: Path) -> str:
    return str(server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"])


def test_a_second_server_on_the_same_designs_says_so_and_ends(server: Server, design: str) -> None:
    second = started(server.data, "--port", str(server.port + 1 if server.port < 65535 else 1024))
    assert second.returncode == 1
    assert f"another Wander (process {server.pid}) already serves the designs in {server.data}" in second.stderr
    assert "Traceback" not in second.stderr
    assert server.edit(design, 1, set_offset("station-7", 100.0)).status_code == 200


def test_an_address_that_is_taken_is_told_before_it_is_printed(server: Server, tmp_path: Path) -> None:
    second = started(tmp_path / "other", "--port", str(server.port))
    assert second.returncode == 1
    assert f"something else already answers at 127.0.0.1:{server.port}" in second.stderr
    assert "Wander is at" not in second.stdout


def test_a_database_of_somebody_else_is_told(tmp_path: Path) -> None:
    (tmp_path / "wander.sqlite3").write_bytes(b"quite something else " * 400)
    ended = started(tmp_path)
    assert ended.returncode == 1
    assert "it is damaged, or no database of Wander's" in ended.stderr
    assert "Traceback" not in ended.stderr


def test_a_folder_that_is_a_file_is_told(tmp_path: Path) -> None:
    (tmp_path / "data").write_text("a file")
    ended = started(tmp_path / "data")
    assert ended.returncode == 1
    assert "can't be written to" in ended.stderr


@pytest.mark.parametrize("lack", ["room", "descriptors"])
def test_a_disk_that_takes_nothing_is_told_and_everything_goes_on_afterwards(server: Server, design: str, lack: str) -> None:
    """No room: no file may grow. No descriptors: no file can be opened."""
    process = psutil.Process(server.pid)
    what, most = (psutil.RLIMIT_FSIZE, 1) if lack == "room" else (psutil.RLIMIT_NOFILE, 3)
    with server.live(design) as live:
        live.done()
        assert server.edit(design, 1, set_offset("station-7", 100.0)).status_code == 200
        before = process.rlimit(what)
        process.rlimit(what, (most, before[1]))
        try:
            refused = server.edit(design, 2, set_offset("station-7", 101.0))
        finally:
            process.rlimit(what, before)
        assert refused.status_code == 503, refused.text
        problem = refused.json()
        assert problem["code"] == "not-kept"
        assert "What was kept before is there" in problem["detail"]
        assert server.read(design)["revision"] == 2, "nothing was half kept"
        assert server.edit(design, 2, set_offset("station-7", 102.0)).json()["revision"] == 3
        live.until(lambda event: event["type"] == "done" and event["revision"] == 3)
    assert server.client.post(f"/api/designs/{design}/undo", json={"base_revision": 3}).json()["revision"] == 2


def test_an_edit_whose_answer_was_lost_is_kept_once(server: Server, design: str) -> None:
    body = {"base_revision": 1, "mark": "page-1/1", "edits": [set_offset("station-7", 100.0)]}
    first = server.client.post(f"/api/designs/{design}/edits", json=body).json()
    again = server.client.post(f"/api/designs/{design}/edits", json=body).json()
    assert first == again
    assert server.client.post(f"/api/designs/{design}/edits", json={**body, "mark": "page-2/1"}).status_code == 409


def test_a_design_that_can_not_be_read_has_a_way_back(tmp_path: Path, samples: Path) -> None:
    server = Server(tmp_path).start()
    made = str(server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"])
    server.client.post(f"/api/designs/{made}/versions", json={"revision": 1, "name": "As it came"})
    server.edit(made, 1, set_offset("station-7", 100.0))
    server.kill()
    with sqlite3.connect(tmp_path / "wander.sqlite3") as database:
        database.execute("UPDATE revision SET document = ? WHERE number = 2", (b"{half of it",))
    server.start_again()
    try:
        problem = server.client.get(f"/api/designs/{made}").json()
        assert (problem["code"], problem["current"]) == ("unreadable-document", 2)
        assert [version["name"] for version in server.client.get(f"/api/designs/{made}/versions").json()] == ["As it came"]
        assert server.client.get("/api/designs").status_code == 200
        opened = server.client.post(f"/api/designs/{made}/revisions/1/open", json={"base_revision": 2}).json()
        assert opened["revision"] == 3
        assert opened["document"]["steps"][6]["params"]["offset"] == 132.0
        with server.live(made) as live:
            live.done()
    finally:
        server.stop()
