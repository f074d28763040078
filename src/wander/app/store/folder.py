"""The folder that a server keeps its designs in: one server at a time, and a line in words when it can't be used."""

from __future__ import annotations

import errno
import os
import sqlite3
from pathlib import Path
from typing import IO

from peewee import DatabaseError


class Unusable(RuntimeError):
    """The designs can't be read or kept; the message says why and what would help."""


def claimed(folder: Path) -> IO[str]:
    """The folder's lock, held until it is closed or the process ends.

    Raises Unusable where another server has it, or nothing can be written there.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        file = (folder / "wander.lock").open("a+")
    except OSError as error:
        raise Unusable(
            f"the folder {folder} can't be written to ({why(error)}). Set WANDER_DATA to another one, or give this one back its rights"
        ) from None
    try:
        _lock(file)
    except OSError:
        file.seek(0)
        owner = file.read().strip()
        file.close()
        who = f"process {owner}" if owner.isdigit() else "another process"
        raise Unusable(
            f"another Wander ({who}) already serves the designs in {folder}. Use that one, end it first, or set WANDER_DATA to another folder"
        ) from None
    file.seek(0)
    file.truncate()
    file.write(str(os.getpid()))
    file.flush()
    return file


def _lock(file: IO[str]) -> None:
    """Raises OSError where somebody has it."""
    if os.name == "nt":
        import msvcrt

        file.seek(0)
        msvcrt.locking(file.fileno(), msvcrt.LK_NBLCK, 1)  # type: ignore[attr-defined,unused-ignore]
    else:
        import fcntl

        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)


def why(error: BaseException) -> str:
    """What went wrong below, in words: half a sentence."""
    text = str(error).lower()
    number = getattr(error, "errno", None)
    if number == errno.ENOSPC or "full" in text:
        return "the disk is full"
    if number in (errno.EACCES, errno.EROFS, errno.EPERM) or "readonly" in text or "read-only" in text:
        return "it is read-only"
    if number == errno.EMFILE or "unable to open" in text:
        return "no file can be opened there; too many may be open already"
    if isinstance(error, sqlite3.DatabaseError | DatabaseError) and ("not a database" in text or "malformed" in text):
        return "it is damaged, or no database of Wander's"
    return str(error) or type(error).__name__
