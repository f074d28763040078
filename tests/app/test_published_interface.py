"""The interface as it is published: whatever its description allows is answered as it says, and nothing is an error of the server."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest

from tests.app.server import Server
from tests.soak import times


@pytest.mark.timeout(times(300, 3600))
def test_every_operation_keeps_to_its_description(server: Server, tarn: str, tmp_path: Path) -> None:
    """With all checks but one: what fits a schema may still be no design, and is refused in words. There is a design to be asked about."""
    assert server.designs()
    arguments = ["run", f"{server.url}/api/openapi.json", "--max-examples", str(times(6, 200)), "--phases", "examples,coverage,fuzzing,stateful"]
    arguments += ["--exclude-checks", "positive_data_acceptance", "--request-timeout", "30", "--no-color"]
    # the short version asks the same every time; the long one something else
    arguments += ["--seed", "1126"] if times(0, 1) == 0 else []
    run = subprocess.run([sys.executable, "-m", "schemathesis.cli", *arguments], capture_output=True, text=True, cwd=tmp_path, check=False)
    assert run.returncode == 0, run.stdout[-6000:] + run.stderr[-2000:]
    tested = re.search(r"Tested: (\d+)", run.stdout)
    assert tested is not None
    assert int(tested[1]) > 30
