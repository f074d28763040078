"""The way in where a token is demanded: a link that holds it, and the cookie that a browser keeps in its place."""

from __future__ import annotations

import secrets
from http.cookies import CookieError, SimpleCookie
from urllib.parse import urlsplit

from starlette.datastructures import Headers, QueryParams
from starlette.responses import RedirectResponse, Response
from starlette.types import Scope

ENTRANCE = "/enter"
KEPT_SECONDS = 30 * 24 * 3600


def cookie_name(headers: Headers) -> str:
    """Browsers keep the cookies of all ports of a machine together: each server has its own."""
    return f"wander-{urlsplit('//' + headers.get('host', '')).port or 80}"


def knows(token: str, headers: Headers) -> bool:
    """Whether a request brings the token, as a bearer token or as the cookie."""
    given = [headers.get("authorization", "").removeprefix("Bearer ")]
    try:
        kept = SimpleCookie(headers.get("cookie", "")).get(cookie_name(headers))
    except CookieError:
        kept = None
    if kept is not None:
        given.append(kept.value)
    return any(secrets.compare_digest(one.encode(), token.encode()) for one in given)


def admitted(token: str, scope: Scope, headers: Headers) -> Response | None:
    """The answer to the link: on to the pages, with the cookie; None where its token is another one."""
    given = QueryParams(scope["query_string"]).get("token", "")
    if not secrets.compare_digest(given.encode(), token.encode()):
        return None
    answer = RedirectResponse("/", 303, {"cache-control": "no-store"})
    answer.set_cookie(cookie_name(headers), token, max_age=KEPT_SECONDS, httponly=True, samesite="strict")
    return answer
