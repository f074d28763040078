"""What faces are called that stand where an edge was: by that edge, so that what is said of it later means the same."""

from __future__ import annotations

import re

_BLEND = re.compile(r"(?P<maker>[a-z]+(?:-[a-z]+)*-\d+)/along\((?P<edge>.*)\)(?P<rest>[^()]*)")
_APART, _TOLD = "&", "="
"""Stand for `|` and `#`, which part the names of faces in the name of an edge."""


def blend_name(maker: str, edge: str) -> str:
    return f"{maker}/along({edge.replace('|', _APART).replace('#', _TOLD)})"


def corner_name(maker: str) -> str:
    """Of a face where several of them meet."""
    return f"{maker}/corner"


def edge_in(name: str) -> tuple[str, str, str] | None:
    """The step that made it, the edge that was there, and what follows; None of any other face."""
    found = _BLEND.fullmatch(name)
    if found is None or "/along(" in found["edge"]:
        return None
    return found["maker"], found["edge"].replace(_APART, "|").replace(_TOLD, "#"), found["rest"]
