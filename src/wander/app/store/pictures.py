"""Reference pictures by the key of their data: the same picture is kept once."""

from __future__ import annotations

import hashlib
import time

from wander.app.store.models import DATABASE, Picture


class UnknownPicture(LookupError):
    """There is no picture with this key."""


def keep_picture(data: bytes) -> str:
    """Keep a picture; returns its key."""
    key = hashlib.sha256(data).hexdigest()[:32]
    with DATABASE.connection_context(), DATABASE.atomic("IMMEDIATE"):
        Picture.insert(key=key, created=time.time(), data=data).on_conflict_ignore().execute()
    return key


def picture(key: str) -> bytes:
    """Raises UnknownPicture."""
    found = picture_or_none(key)
    if found is None:
        raise UnknownPicture(key)
    return found


def picture_or_none(key: str) -> bytes | None:
    with DATABASE.connection_context():
        found = Picture.get_or_none(Picture.key == key)
    return None if found is None else bytes(found.data)
