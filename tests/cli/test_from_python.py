"""From a notebook: what the README shows is so, and the command line says the same."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import wander
from tests.closeness import assert_close
from wander.core.design.errors import EditRefused

ROOT = Path(__file__).parents[2]


def test_the_example_of_the_readme_runs(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    example = re.search(r"```python\n(.*?)```", (ROOT / "README.md").read_text(), re.DOTALL)
    assert example is not None
    (tmp_path / "samples").symlink_to(ROOT / "samples")
    monkeypatch.chdir(tmp_path)
    exec(example[1], {})  # our own words
    assert_close(float(capsys.readouterr().out.split()[0]), 56.73, within=0.05)
    assert b"ADVANCED_FACE('loft-13/side'" in (tmp_path / "tarn.step").read_bytes()


def test_a_dimension_is_read_and_set_and_the_body_follows(tmp_path: Path) -> None:
    flask = wander.open(ROOT / "samples" / "tarn.json")
    before = flask.bodies["Flask"].volume
    assert flask["belly"] > 0
    flask["belly"] = flask["belly"] * 1.1
    after = flask.bodies["Flask"].volume
    assert after > before
    assert wander.open(flask.save(tmp_path / "wider.json")).bodies["Flask"].volume == after
    assert [body.name for body in flask] == ["Flask", "Lip"]
    assert flask.builds
    with pytest.raises(KeyError):
        flask["nothing"]
    with pytest.raises(KeyError):
        flask["nothing"] = 3.0
    with pytest.raises(EditRefused):
        flask["belly"] = "3 +"
    with pytest.raises(ValueError, match="ends in"):
        flask.export(tmp_path / "flask.txt")


def test_a_parameter_is_set_by_the_name_of_its_step() -> None:
    bailer = wander.open(ROOT / "samples" / "bailer.json")
    name = next(step.name for step in bailer.document.steps if step.kind == "station")
    bailer.set(name, "offset", to=-10.0)
    assert bailer.builds
    with pytest.raises(KeyError):
        bailer.set("nobody", "offset", to=1.0)
