"""Settings for all tests."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling

from tests.as_shaped import as_shaped

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
settings.register_profile("wander", max_examples=10, deadline=None, suppress_health_check=[HealthCheck.too_slow])
# where a change has to land the same examples are tried every time; everywhere else new ones are looked for
settings.register_profile("landing", settings.get_profile("wander"), derandomize=True)
settings.load_profile("landing" if os.environ.get("CI") else "wander")


ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="session")
def samples() -> Path:
    """The demo designs as they were shaped."""
    return as_shaped()


ON_THE_BOARD = ("tests/ui/test_board", "tests/ui/test_ten_drawings")


class PagesInARow(LoadScopeScheduling):
    """Tests of the floor one after the other, beside them those of the board, and all others wherever there is room.

    A browser that draws bodies in software, its server and the processes for shapes have use for two cores by themselves; the sheet asks for little.
    """

    def _split_scope(self, nodeid: str) -> str:
        if not nodeid.startswith("tests/ui/"):
            return nodeid
        return "board" if nodeid.startswith(ON_THE_BOARD) else "floor"


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> LoadScopeScheduling | None:
    return PagesInARow(config, log) if config.getoption("dist") == "loadscope" else None
