"""Routes of the library."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel, Field

from wander.app import library
from wander.app.api.using import Using
from wander.app.api.wire import DesignOut, Number
from wander.app.store.profiles import forget_profile

router = APIRouter(prefix="/api", tags=["library"])


class KeepProfile(BaseModel):
    design: str
    step: str
    name: str = Field(min_length=1, max_length=80)


class BeginWith(BaseModel):
    """values: of a starter's parameters, mm or counts."""

    base_revision: Number
    name: str = Field(max_length=80)
    own: bool
    values: dict[str, float] = Field(default={}, max_length=12)


@router.get("/profiles")
def profiles() -> list[library.ProfileOut]:
    """Own profiles and starters."""
    return library.all_profiles()


@router.post("/profiles", status_code=204)
def keep(new: KeepProfile, service: Using) -> None:
    """Keep the drawing of a section under a name; another of that name is replaced."""
    library.keep(service.head(new.design).document, new.step, new.name)


@router.delete("/profiles/{name}", status_code=204)
def forget(name: str) -> None:
    forget_profile(name)


@router.post("/designs/{design}/drawings/{step}/profile")
def begin(design: str, step: str, wanted: BeginWith, service: Using) -> DesignOut:
    """Begin the drawing of a section anew with a profile, as one change."""
    shape = library.begin(wanted.name, wanted.own, wanted.values)
    return DesignOut.of(service.set_shape(design, wanted.base_revision, step, shape))
