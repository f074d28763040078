"""The page of findings holds every code that a finding can have, each with a sketch."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[3]


def codes_said() -> Iterator[str]:
    """Every code of the source, whatever it chooses between: of findings, and of those that `refused` makes."""
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
                continue
            given = [keyword.value for keyword in node.keywords if keyword.arg == "code"] if node.func.id == "Finding" else []
            if node.func.id == "refused":
                given = node.args[1:2]
            for code in given:
                yield from (each.value for each in ast.walk(code) if isinstance(each, ast.Constant) and isinstance(each.value, str))


def test_every_code_is_on_the_page_with_its_sketch() -> None:
    page = (ROOT / "docs" / "findings.md").read_text()
    listed = re.findall(r"^\| !\[\]\(findings/([a-z-]+)\.svg\) \| `([a-z-]+)` \|", page, re.MULTILINE)
    codes = {code for _, code in listed}
    assert all(sketch == code for sketch, code in listed)
    said = set(codes_said())
    assert len(said) > 30
    assert said <= codes, said - codes
    assert codes == {path.stem for path in (ROOT / "docs" / "findings").glob("*.svg")}
    assert len(listed) == len(codes)
