"""The wheel: one file that holds pages and samples, and serves them without Node and without the checkout."""

from __future__ import annotations

import shutil
import subprocess
import sys
import zipfile
from pathlib import Path

from tests.app.server import Server

ROOT = Path(__file__).parents[2]


def test_a_wheel_serves_its_own_pages_and_samples(tmp_path: Path) -> None:
    staged = tmp_path / "wheel"
    shutil.copytree(ROOT / "src", staged / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, staged)
    shutil.copytree(ROOT / "web" / "dist", staged / "src" / "wander" / "pages")
    shutil.copytree(ROOT / "samples", staged / "src" / "wander" / "samples")
    arguments = ["wheel", "--quiet", "--disable-pip-version-check", "--no-deps", "--wheel-dir", str(tmp_path), str(staged)]
    subprocess.run([sys.executable, "-m", "pip", *arguments], check=True)
    [wheel] = tmp_path.glob("wander-*.whl")
    unpacked = tmp_path / "installed"
    with zipfile.ZipFile(wheel) as held:
        held.extractall(unpacked)
        assert not [name for name in held.namelist() if name.startswith("tests")]
    server = Server(tmp_path / "data")
    server.run_from(unpacked)
    try:
        server.start("demo")
        assert set(server.designs()) >= {"Tarn flask"}
        page = server.client.get("/")
        assert page.status_code == 200
        script = page.text.split('src="')[1].split('"')[0]
        assert script.startswith("/assets/")
        assert len(server.client.get(script).content) > 10_000
    finally:
        server.stop()
