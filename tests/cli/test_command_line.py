"""The command line as another program uses it: JSON, exit codes, files."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path

import pytest
import trimesh
from typer.testing import CliRunner

from tests.closeness import assert_close
from tests.core.design.designs import circle, lofted, wedged
from wander import __version__
from wander.cli.main import app
from wander.core.design.reading import write_document


@dataclass(frozen=True)
class Ran:
    returncode: int
    stdout: str
    stderr: str


def wander(*arguments: str | Path) -> Ran:
    """The command in this process: the same parsing, printing and exit codes, without a new interpreter each time."""
    result = CliRunner().invoke(app, [*map(str, arguments)])
    return Ran(result.exit_code, result.stdout, result.stderr)


def test_it_is_a_program_of_its_own(samples: Path) -> None:
    run = subprocess.run(
        [sys.executable, "-m", "wander.cli.main", "measure", str(samples / "bailer.json"), "--json"], capture_output=True, text=True, check=True
    )
    assert json.loads(run.stdout)["bodies"][0]["name"] == "Spout"


@pytest.fixture(scope="module")
def broken(tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("designs") / "broken.json"
    path.write_bytes(write_document(lofted((0.0, circle("nek")), (10.0, circle(5.0)), dimensions=(("neck", 3.0),))))
    return path


@pytest.fixture(scope="module")
def garbage(tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("designs") / "garbage.json"
    path.write_bytes(b"\x00\x01 not a design")
    return path


def test_measure_prints_what_the_core_knows(samples: Path) -> None:
    run = wander("measure", samples / "tarn.json", "--json")
    assert run.returncode == 0, run.stderr
    found = json.loads(run.stdout)["bodies"][0]
    assert found["name"] == "Flask"
    assert_close(found["high"][2] - found["low"][2], 200.0, within=1e-9)
    assert 700_000 < found["volume"] < 850_000


def test_build_tells_how_each_step_stands(samples: Path) -> None:
    found = json.loads(wander("build", samples / "bailer.json", "--json").stdout)
    assert {step["state"] for step in found["steps"]} == {"ready"}
    assert all(step["key"] for step in found["steps"])


def test_check_asks_the_kernel(samples: Path) -> None:
    run = wander("check", samples / "bailer.json", "--json")
    assert run.returncode == 0
    solid = json.loads(run.stdout)["solids"][0]
    assert solid["valid"] is True
    assert solid["faces"] == ["loft-9/end:section-2", "loft-9/end:section-8", "loft-9/side"]


def test_check_says_that_a_skin_runs_through_itself(tmp_path: Path) -> None:
    path = tmp_path / "wedge.json"
    path.write_bytes(write_document(wedged()))
    found = json.loads(wander("check", path, "--json").stdout)["findings"]
    assert [f["code"] for f in found if f["code"] == "skin-crosses"] == ["skin-crosses"]
    assert "The skin runs through itself" in wander("check", path).stdout


@pytest.mark.parametrize("command", ["build", "measure", "check"])
def test_without_json_a_person_can_read_it(samples: Path, broken: Path, command: str) -> None:
    assert "Flask" in wander(command, samples / "tarn.json").stdout or command == "check"
    run = wander(command, broken)
    assert run.returncode == 1
    assert "nek" in run.stdout
    assert "could help: Use neck" in run.stdout


@pytest.mark.parametrize("command", ["build", "measure", "check"])
def test_findings_that_stop_the_build_give_one(broken: Path, command: str) -> None:
    run = wander(command, broken, "--json")
    assert run.returncode == 1
    assert "unknown-name" in [finding["code"] for finding in json.loads(run.stdout)["findings"]]


@pytest.mark.parametrize("command", [("build",), ("measure",), ("check",), ("export", "out.stl")])
def test_input_that_can_not_be_read_gives_two(garbage: Path, tmp_path: Path, command: tuple[str, ...]) -> None:
    run = wander(command[0], garbage, *(tmp_path / extra for extra in command[1:]))
    assert run.returncode == 2
    assert "not JSON" in " ".join(run.stderr.split())
    assert wander(command[0], tmp_path / "missing.json", *(tmp_path / extra for extra in command[1:])).returncode == 2


def test_export_writes_the_file(samples: Path, tmp_path: Path) -> None:
    target = tmp_path / "tarn.stl"
    run = wander("export", samples / "tarn.json", target, "--tolerance", "0.2", "--json")
    assert run.returncode == 0
    assert json.loads(run.stdout)["bytes"] == target.stat().st_size
    assert trimesh.load(target).is_watertight


def test_export_by_counts(samples: Path, tmp_path: Path) -> None:
    target = tmp_path / "tarn.obj"
    run = wander("export", samples / "tarn.json", target, "--around", "24", "--along", "30", "--json")
    assert run.returncode == 0
    facets = [line.split()[1:] for line in target.read_text().splitlines() if line.startswith("f ")]
    assert sorted({len(facet) for facet in facets}) == [4, 24]
    assert sum(len(facet) == 4 for facet in facets) == 24 * 30
    assert trimesh.load(target, process=True).is_watertight


def test_export_to_an_unknown_format_gives_two(samples: Path, tmp_path: Path) -> None:
    run = wander("export", samples / "tarn.json", tmp_path / "tarn.xyz")
    assert run.returncode == 2
    assert ".step, .stl, .glb or .obj" in run.stderr


def test_export_of_a_broken_design_writes_nothing(broken: Path, tmp_path: Path) -> None:
    run = wander("export", broken, tmp_path / "out.step")
    assert run.returncode == 1
    assert not (tmp_path / "out.step").exists()
    assert "no body" in run.stderr


def test_the_schema_is_printed() -> None:
    assert json.loads(wander("schema").stdout)["$id"] == "wander-design/1"


def test_the_version_is_that_of_the_package() -> None:
    told = (Path(__file__).parents[2] / "pyproject.toml").read_text()
    assert f'version = "{__version__}"' in told
    assert wander("--version").stdout.strip() == f"wander {__version__}"
    as_module = subprocess.run([sys.executable, "-m", "wander", "--version"], capture_output=True, text=True, check=True)
    assert as_module.stdout.strip() == f"wander {__version__}"
