"""The page on what Wander is made with names every package that it runs on."""

from __future__ import annotations

import json
import re
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_every_package_is_named_with_its_licence() -> None:
    page = dict(re.findall(r"^\| ([\w@/.-]+) \| (.+) \|$", (ROOT / "docs" / "third-party.md").read_text(), re.MULTILINE))
    page.pop("package")
    installed = set(re.findall(r"^([a-z0-9_.-]+)==", (ROOT / "requirements.lock").read_text(), re.MULTILINE))
    packed = set(json.loads((ROOT / "web" / "package.json").read_text())["dependencies"])
    assert set(page) == installed | packed
    assert all(len(licence) > 2 for licence in page.values())
