"""Lists of points in text: foil coordinates in their two common layouts, and columns of numbers (CSV, TXT)."""

from __future__ import annotations

import re
from collections.abc import Callable

import numpy as np

from wander.core.exchange.curves import MOST_POINTS, Contents, Polyline, UnreadableCurves
from wander.core.geometry.basis import Floats

SHARP = 1e-6
"""Share of its chord below which a trailing edge has no thickness."""
LOOKED_AT = 2000
"""Lines that tell how numbers are written."""
_SEPARATORS = re.compile(r"[,;\t ]+")
_WIDE = re.compile(r"[;\t ]+")
_COMMA = re.compile(r"[-+]?(\d+(,\d*)?|,\d+)([eE][-+]?\d+)?")
"""A number with a comma before its decimals, or none."""
_NUMBER = re.compile(r"[-+]?[\d.,].*")


def read_text(data: bytes) -> str:
    """The text of a file. Raises UnreadableCurves where it is none."""
    if b"\0" in data[:4096]:
        raise UnreadableCurves("this is no text: it holds zero bytes. Foils and point lists are text files with a pair of numbers on each line")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def read_points(data: bytes) -> Contents:
    """Curves of a point file: a foil in either layout, or blocks of points parted by empty lines."""
    text = read_text(data)
    blocks, title = _blocks(text)
    if not blocks:
        raise UnreadableCurves("no line of this file holds two numbers")
    foil = _foil(blocks) if title is not None or len(blocks) > 1 else None
    curves = _with_its_edge(foil) if foil is not None else [Polyline(np.array(block), smooth=True) for block in blocks if len(block) > 1]
    return Contents(list(curves), [""] * len(curves), says_unit=False)


def _with_its_edge(foil: Floats) -> list[Polyline]:
    """A foil (m, 2) from its trailing edge round: closed where it is sharp there, with a straight piece of its own where it is blunt."""
    chord = float(np.ptp(foil[:, 0]))
    ends = foil[[-1, 0]]
    if np.linalg.norm(ends[1] - ends[0]) < SHARP * chord:
        return [Polyline(foil, smooth=True, closed=True, chord=chord)]
    return [Polyline(foil, smooth=True, chord=chord), Polyline(ends, smooth=False)]


def _words(text: str) -> Callable[[str], list[str]]:
    """How the lines of a text are parted into numbers. Commas are decimal where every line with numbers reads so, and no number has a point."""
    commas = False
    for line in text.splitlines()[:LOOKED_AT]:
        words = [w for w in _WIDE.split(line.strip()) if w]
        if len(words) > 1 and all(_COMMA.fullmatch(w) for w in words[:2]):
            commas |= any("," in w for w in words[:2])
        elif words and _NUMBER.fullmatch(words[0]):
            commas = False
            break
    if commas:
        return lambda line: [w.replace(",", ".") for w in _WIDE.split(line.strip()) if w]
    return lambda line: [w for w in _SEPARATORS.split(line.strip()) if w]


def _blocks(text: str) -> tuple[list[list[tuple[float, float]]], str | None]:
    """Runs of lines that hold numbers; the line before the first of them is a title. Columns after the second are left aside."""
    blocks: list[list[tuple[float, float]]] = []
    title: str | None = None
    fresh = True
    total = 0
    parted = _words(text)
    for number, line in enumerate(text.splitlines(), start=1):
        words = parted(line)
        if not words:
            fresh = True
            continue
        try:
            values = [float(w) for w in words[:2]]
        except ValueError:
            if blocks and any(c.isdigit() for c in line) and len(words) > 1 and _half_number(words):
                raise UnreadableCurves(f"line {number} can't be read as two numbers: “{line.strip()[:60]}”") from None
            title = line.strip() if not blocks else title
            fresh = True
            continue
        if len(values) < 2:
            if blocks:
                raise UnreadableCurves(f"line {number} holds one number where two are needed; the file may have been cut off")
            continue
        if not all(np.isfinite(values)) or max(abs(v) for v in values) > 1e7:
            raise UnreadableCurves(f"line {number} holds a number that is no place: “{line.strip()[:60]}”")
        if fresh:
            blocks.append([])
            fresh = False
        blocks[-1].append((values[0], values[1]))
        total += 1
        if total > MOST_POINTS:
            raise UnreadableCurves(f"the file holds more than {MOST_POINTS} points, the most that are read. Thin it out, every tenth point would do")
    return blocks, title


def _half_number(words: list[str]) -> bool:
    try:
        float(words[0])
    except ValueError:
        return False
    return True


def _foil(blocks: list[list[tuple[float, float]]]) -> Floats | None:
    """The outline of a foil, from the trailing edge round: one list in that order, or an upper and a lower list, each from the nose on.

    The second layout begins with a line that counts the points of both lists.
    """
    if len(blocks) == 1:
        only = np.array(blocks[0])
        count = only[0]
        if count.min() > 1 and np.all(count == np.round(count)) and len(only) == 1 + int(count.sum()):
            upper, lower = only[1 : 1 + int(count[0])], only[1 + int(count[0]) :]
            return _round(upper, lower)
        if _looks_like_a_foil(only):
            return only
        return None
    counts = blocks[0]
    lists = [np.array(b) for b in blocks]
    if len(counts) == 1 and len(lists) == 3 and (len(lists[1]), len(lists[2])) == tuple(int(c) for c in counts[0]):
        return _round(lists[1], lists[2])
    if len(lists) == 2 and all(len(x) > 4 and np.all(np.diff(x[:, 0]) >= -1e-9) for x in lists) and np.allclose(lists[0][0], lists[1][0], atol=0.02):
        return _round(lists[0], lists[1])
    return None


def _round(upper: Floats, lower: Floats) -> Floats:
    same_nose = np.linalg.norm(upper[0] - lower[0]) < 1e-9
    return np.concatenate([upper[::-1], lower[1 if same_nose else 0 :]])


def _looks_like_a_foil(points: Floats) -> bool:
    """From the trailing edge forwards to the nose and back."""
    x = points[:, 0]
    nose = int(np.argmin(x))
    reach = float(np.ptp(x))
    if not 3 < nose < len(x) - 4 or reach <= 0:
        return False
    there, back = np.diff(x[: nose + 1]), np.diff(x[nose:])
    return bool(np.all(there < 1e-6 * reach) and np.all(back > -1e-6 * reach) and abs(x[0] - x[-1]) < 0.05 * reach)
