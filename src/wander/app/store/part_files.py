"""Files with bodies in them, by the key of their data: the same file is kept once, packed."""

from __future__ import annotations

import hashlib
import time
import zlib
from pathlib import Path

from peewee import OperationalError, SqliteDatabase

from wander.app.store.models import DATABASE, PartFile


def keep_part_file(data: bytes) -> str:
    """Keep a file; returns its key."""
    key = hashlib.sha256(data).hexdigest()[:32]
    with DATABASE.connection_context(), DATABASE.atomic("IMMEDIATE"):
        PartFile.insert(key=key, created=time.time(), data=zlib.compress(data)).on_conflict_ignore().execute()
    return key


def part_file_or_none(key: str) -> bytes | None:
    with DATABASE.connection_context():
        found = PartFile.get_or_none(PartFile.key == key)
    return None if found is None else zlib.decompress(bytes(found.data))


def read_beside(database: Path, key: str) -> bytes | None:
    """As another process reads what is kept in a database, without ever writing to it."""
    held = SqliteDatabase(f"{database.absolute().as_uri()}?mode=ro", uri=True)
    try:
        row = held.execute_sql("SELECT data FROM part_file WHERE key = ?", (key,)).fetchone()
    except OperationalError:
        return None  # there is no database yet
    finally:
        held.close()
    return None if row is None else zlib.decompress(row[0])
