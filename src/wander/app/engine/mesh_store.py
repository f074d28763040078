"""Meshes by key, in a folder that can be deleted at any time."""

from __future__ import annotations

import os
import re
from pathlib import Path

_KEY = re.compile(r"[0-9a-f]{16,64}")


class MeshStore:
    def __init__(self, folder: Path) -> None:
        self.folder = folder / "meshes"
        self.folder.mkdir(parents=True, exist_ok=True)

    def path(self, key: str) -> Path:
        """Where the mesh of a key lies. Raises KeyError when the key can't be one."""
        if not _KEY.fullmatch(key):
            raise KeyError(key)
        return self.folder / f"{key}.glb"

    def has(self, key: str) -> bool:
        return self.path(key).is_file()

    def read(self, key: str) -> bytes | None:
        """The mesh; None where the cache has been emptied in the meantime."""
        try:
            return self.path(key).read_bytes()
        except FileNotFoundError:
            return None

    def put(self, key: str, data: bytes) -> None:
        """Written beside and moved into place, so that nobody ever reads half a mesh."""
        partial = self.folder / f"{key}.{os.getpid()}.part"
        partial.write_bytes(data)
        partial.replace(self.path(key))

    def prune(self, most_bytes: int) -> None:
        """Drop the meshes that were read least recently until the folder fits."""
        files = sorted(((p.stat().st_mtime, p.stat().st_size, p) for p in self.folder.glob("*.glb")), reverse=True)
        total = 0
        for _, size, path in files:
            total += size
            if total > most_bytes:
                path.unlink(missing_ok=True)
