"""A result is known again by the code that made it."""

from __future__ import annotations

from pathlib import Path

from wander.core.design.code import code_version


def test_another_line_of_code_is_another_version(tmp_path: Path) -> None:
    one, other = tmp_path / "one", tmp_path / "other"
    for folder, text in ((one, "x = 1\n"), (other, "x = 2\n")):
        (folder / "inner").mkdir(parents=True)
        (folder / "a.py").write_text("")
        (folder / "inner" / "b.py").write_text(text)
    assert code_version(one) != code_version(other)
    (other / "inner" / "b.py").write_text("x = 1\n")
    code_version.cache_clear()
    assert code_version(one) == code_version(other)
    (other / "inner" / "b.py").rename(other / "b.py")
    code_version.cache_clear()
    assert code_version(one) != code_version(other)
