"""The kind of step that docs/adding-a-step.md adds, in a copy of the product: one folder on each side, nothing else touched, and it is used."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor

ROOT = Path(__file__).parents[2]


def written(language: str) -> dict[str, str]:
    """The files that the page shows, by name."""
    text = (ROOT / "docs" / "adding-a-step.md").read_text()
    names = re.findall(r"`(?:core|web/src)/steps/<kind>/([\w.]+)`:", text)
    blocks = re.findall(r"```(python|ts)\n(.*?)```", text, re.DOTALL)
    assert len(names) == len(blocks) == 4
    return {name: block for name, (of, block) in zip(names, blocks, strict=True) if of == language}


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    """A copy of the product with the kind added."""
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copytree(ROOT / "web", tmp_path / "web", ignore=shutil.ignore_patterns("node_modules", "dist"))
    (tmp_path / "web" / "node_modules").symlink_to(ROOT / "web" / "node_modules")
    for folder, language in (("src/wander/core/steps/spin", "python"), ("web/src/steps/spin", "ts")):
        (tmp_path / folder).mkdir()
        for name, text in written(language).items():
            (tmp_path / folder / name).write_text(text)
    subprocess.run(["npx", "vite", "build", "--logLevel", "error"], cwd=tmp_path / "web", check=True, capture_output=True)
    return tmp_path


@pytest.fixture
def adding(copy: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Server]:
    monkeypatch.setenv("PYTHONPATH", str(copy / "src"))
    monkeypatch.chdir(copy)
    running = Server(copy / "data").start()
    yield running
    running.stop()


def test_one_folder_on_each_side_is_a_kind_of_step(page: Page, adding: Server, copy: Path, samples: Path) -> None:
    made = adding.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()
    floor = Floor(page, adding, made["id"])
    floor.open()
    before = floor.volume
    page.get_by_role("button", name="Finish", exact=True).click()
    page.get_by_role("menuitem", name="Spin Flask").click()
    # the form follows from the parameters
    expect(floor.field("Turned by")).to_have_value("30")
    floor.type_into("Turned by", "75")
    wait_until(lambda: floor.document["steps"][-1]["params"].get("angle") in (75, "75", "75 deg"))
    document = floor.document
    step = document["steps"][-1]
    expect(page.get_by_text("Flask turned on the spot")).to_be_visible()
    with adding.live(floor.design) as live:
        spun = live.step(step["id"])
    assert spun["state"] == "ready"
    assert_close(spun["summary"]["volume"], before, within=1e-6 * before)
    for _ in ("the angle", "the step"):
        revision = floor.revision
        page.get_by_role("button", name="Undo", exact=True).click()
        wait_until(lambda revision=revision: floor.revision != revision)
    wait_until(lambda: floor.document["steps"][-1]["kind"] != "spin")

    # the command line knows it too, and who only reads documents loads no geometry for it
    (copy / "spun.json").write_text(json.dumps(document))
    command = [sys.executable, "-m", "wander.cli.main", "build", str(copy / "spun.json")]
    said = subprocess.run(command, env=os.environ, check=True, capture_output=True, text=True).stdout
    assert "Spin" in said
    reading = "import sys; import wander.core.steps; sys.exit('wander.core.steps.spin.build' in sys.modules)"
    subprocess.run([sys.executable, "-c", reading], env=os.environ, check=True)
