"""The page on running says every setting, with the value that it has at first."""

from __future__ import annotations

import re
from pathlib import Path

from wander.app.settings import Settings

PAGE = (Path(__file__).parents[2] / "docs" / "running.md").read_text()


def test_every_setting_is_on_the_page_with_its_first_value() -> None:
    rows = dict(re.findall(r"^\| `WANDER_([A-Z_]+)` \| (.*?) \|", PAGE, re.MULTILINE))
    assert {name.lower() for name in rows} == set(Settings.model_fields)
    for name, field in Settings.model_fields.items():
        told = rows[name.upper()].strip("`")
        if isinstance(field.default, bool):
            assert told == str(field.default).lower()
        elif isinstance(field.default, int | float):
            assert float(told) == float(field.default)
        elif name == "hosts":
            assert told == str(list(field.default)).replace("'", '"').replace(" ", "")
        assert field.description, name
