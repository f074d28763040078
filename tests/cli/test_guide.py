"""What the guide says that a reader will see: its volumes by their closed forms, its pictures where it says they are."""

from __future__ import annotations

import re
from math import pi
from pathlib import Path

from tests.closeness import assert_close

DOCS = Path(__file__).parents[2] / "docs"
GUIDE = (DOCS / "first-body.md").read_text()


def frustum(first: float, last: float, height: float) -> float:
    return pi * height * (first**2 + first * last + last**2) / 12


def test_the_volumes_of_the_guide_are_those_of_its_cup() -> None:
    told = [float(number) for number in re.findall(r"([\d.]+) cm³", GUIDE)]
    outside = frustum(60, 80, 30)
    joined = outside + pi * 90**2 / 4 * 5
    wanted = [outside, joined, joined - frustum(54, 74, 30)]
    assert_close(told, [volume / 1000 for volume in wanted], within=0.005)


def test_the_pictures_and_pages_of_the_guide_are_there() -> None:
    links = re.findall(r"\]\((?!http)([\w./-]+)\)", GUIDE)
    assert len(links) >= 4
    assert all((DOCS / link).is_file() for link in links)
