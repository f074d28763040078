"""What faces are called that come from another face or from an edge: by that one, so that what is said of it later means the same."""

from __future__ import annotations

import re

_ALONG = re.compile(r"(?P<maker>[a-z]+(?:-[a-z]+)*-\d+)/along\((?P<edge>.*)\)(?P<rest>[^()]*)")
_OF_FACE = re.compile(r"(?P<maker>[a-z]+(?:-[a-z]+)*-\d+/(?:inside|outside))\((?P<face>.*)\)(?P<rest>[^()]*)")
_APART, _TOLD = "&", "="
"""Stand for `|` and `#`, which part the names of faces in the name of an edge."""


def within_name(name: str) -> str:
    """The name of an edge or face as part of another name."""
    return name.replace("|", _APART).replace("#", _TOLD)


def blend_name(maker: str, edge: str) -> str:
    """Of the face that lies where the edge was, or goes on from it."""
    return f"{maker}/along({within_name(edge)})"


def corner_name(maker: str) -> str:
    """Of a face where several of them meet."""
    return f"{maker}/corner"


def edge_in(name: str) -> tuple[str, str, str] | None:
    """The step that made it, the edge that was there, and what follows; None of any other face."""
    found = _ALONG.fullmatch(name)
    if found is None or "/along(" in found["edge"]:
        return None
    return found["maker"], found["edge"].replace(_APART, "|").replace(_TOLD, "#"), found["rest"]


def wall_name(maker: str, word: str, face: str) -> str:
    """Of the face at a distance from another one. word: `inside` or `outside`."""
    return f"{maker}/{word}({within_name(face)})"


def face_in(name: str) -> tuple[str, str, str] | None:
    """What made it and on which side, the face that it is at a distance from, and what follows; None of any other face."""
    found = _OF_FACE.fullmatch(name)
    return None if found is None else (found["maker"], found["face"], found["rest"])
