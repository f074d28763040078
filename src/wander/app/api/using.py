"""How routes get at the service."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from wander.app.service import Service


def service_of(request: Request) -> Service:
    found: Service = request.app.state.service
    return found


Using = Annotated[Service, Depends(service_of)]
