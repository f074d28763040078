"""A shelf: bytes by key in a folder that several processes share, that stays within its bound, and that may be deleted at any time."""

from __future__ import annotations

import os
import re
from pathlib import Path

_KEY = re.compile(r"[0-9a-f]{16,64}")
LOOK_AFTER = 128
"""The folder is looked through whenever this process has put that part of the bound into it."""
RESULTS = 512 * 2**20
"""Bound of the shared results where nothing else is said."""
FULL, ROOM = 0.9, 0.8
"""Shares of the bound: above the first it is cleared, down to the second. A dozen processes may put in their part before the next of them looks."""


class Shelf:
    """Files named by keys. most_bytes: the bound of all of them together; those used least recently go first."""

    def __init__(self, folder: Path, ending: str, most_bytes: int) -> None:
        self.folder = folder
        self._ending = ending
        self._most = most_bytes
        self._since = 0
        self.folder.mkdir(parents=True, exist_ok=True)

    def path(self, key: str) -> Path:
        """Where the bytes of a key lie. Raises KeyError when the key can't be one."""
        if not _KEY.fullmatch(key):
            raise KeyError(key)
        return self.folder / f"{key}.{self._ending}"

    def has(self, key: str) -> bool:
        return self.path(key).is_file()

    def read(self, key: str) -> bytes | None:
        """The bytes; None where there are none, or none any more. Read just now, they are the last to go."""
        path = self.path(key)
        try:
            data = path.read_bytes()
            os.utime(path)
        except FileNotFoundError:
            return None
        return data

    def put(self, key: str, data: bytes) -> None:
        """Written beside and moved into place, so that nobody ever reads half of it."""
        partial = self.folder / f"{key}.{os.getpid()}.part"
        try:
            partial.write_bytes(data)
        except FileNotFoundError:
            self.folder.mkdir(parents=True, exist_ok=True)  # deleted meanwhile
            partial.write_bytes(data)
        partial.replace(self.path(key))
        self._since += len(data)
        if self._since > self._most / LOOK_AFTER:
            self.clear_up()

    def clear_up(self) -> None:
        """Drop what was used least recently until the folder fits."""
        self._since = 0
        found = []
        for path in self.folder.iterdir():
            try:
                status = path.stat()
            except FileNotFoundError:
                continue
            found.append((status.st_mtime, status.st_size, path))
        total = sum(size for _, size, _ in found)
        if total <= FULL * self._most:
            return
        for _, size, path in sorted(found):
            path.unlink(missing_ok=True)
            total -= size
            if total <= ROOM * self._most:
                return


def shared_cache() -> Path:
    """The folder of what all processes on this machine share: in WANDER_DATA, or where the platform keeps a user's data."""
    from platformdirs import user_data_path

    return Path(os.environ.get("WANDER_DATA") or user_data_path("wander")) / "cache"


def shared_results() -> Shelf | None:
    """Results that a server on this machine, the command line and notebooks have in common; None where that folder can't be used."""
    try:
        return Shelf(shared_cache() / "results", "built", RESULTS)
    except OSError:
        return None
