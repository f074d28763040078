"""Own profiles, by name: drawings that outlive the design they were made in."""

from __future__ import annotations

import time
from dataclasses import dataclass
from typing import Any

import orjson

from wander.app.store.models import DATABASE, Profile


class UnknownProfile(LookupError):
    """There is no own profile of this name."""


@dataclass(frozen=True)
class OwnProfile:
    name: str
    created: float
    drawing: dict[str, Any]


def keep_profile(name: str, drawing: dict[str, Any]) -> OwnProfile:
    """Keep a drawing under a name; another of the same name is replaced."""
    now = time.time()
    with DATABASE.connection_context(), DATABASE.atomic("IMMEDIATE"):
        Profile.insert(name=name, created=now, drawing=orjson.dumps(drawing)).on_conflict_replace().execute()
    return OwnProfile(name, now, drawing)


def profiles() -> list[OwnProfile]:
    """All own profiles by name."""
    with DATABASE.connection_context():
        return [OwnProfile(p.name, p.created, orjson.loads(bytes(p.drawing))) for p in Profile.select().order_by(Profile.name)]


def profile(name: str) -> OwnProfile:
    """Raises UnknownProfile."""
    with DATABASE.connection_context():
        found = Profile.get_or_none(Profile.name == name)
    if found is None:
        raise UnknownProfile(name)
    return OwnProfile(found.name, found.created, orjson.loads(bytes(found.drawing)))


def forget_profile(name: str) -> None:
    """Raises UnknownProfile."""
    with DATABASE.connection_context(), DATABASE.atomic("IMMEDIATE"):
        if not Profile.delete().where(Profile.name == name).execute():
            raise UnknownProfile(name)
