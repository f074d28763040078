"""Which code made a result: what was made by other code is not taken for what this code would make."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

CORE = Path(__file__).parents[1]


@cache
def code_version(folder: Path = CORE) -> bytes:
    """A digest of all modules below a folder, 32 bytes."""
    told = hashlib.sha256()
    for path in sorted(folder.rglob("*.py")):
        told.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes() + b"\0")
    return told.digest()
