"""Names of the parts into which faces fell: by the faces beside each part, which stay what they are when the shape changes."""

from __future__ import annotations

import hashlib
import re
from collections import defaultdict
from collections.abc import Callable, Sequence

from wander.core.geometry.basis import Floats

LONG = 80
"""Further words in a name are shortened beyond this many letters."""
NONE_OF_ITS_OWN = "rest"
_FURTHER = re.compile(r"\+\d+\.[^+~@^#|&=()]*")


def told_by_neighbours(names: Sequence[str], neighbours: Sequence[frozenset[str]], centres: Callable[[], Floats]) -> list[str]:
    """The names, those that stand several times with the neighbours that only that part has.

    Parts that no neighbour tells apart are counted, `~1of2`, in the order of their centres: such a name is not trusted alone.
    """
    groups: dict[str, list[int]] = defaultdict(list)
    for i, name in enumerate(names):
        groups[name].append(i)
    found = list(names)
    for name, parts in groups.items():
        if len(parts) == 1:
            continue
        common = frozenset.intersection(*(neighbours[i] for i in parts))
        own = {i: short("+".join(sorted({plain(n) for n in neighbours[i]} - {plain(n) for n in common})) or NONE_OF_ITS_OWN) for i in parts}
        if len(set(own.values())) == len(parts):
            for i in parts:
                found[i] = f"{name}~{own[i]}"
            continue
        places = centres().round(6)
        for k, i in enumerate(sorted(parts, key=lambda i: tuple(places[i])), start=1):
            found[i] = f"{name}~{k}of{len(parts)}"
    return found


def plain(name: str) -> str:
    """A side by the oldest of the curves that it was made from: what further sections say of it may come and go."""
    return _FURTHER.sub("", name)


def short(words: str) -> str:
    """Long words as a few letters that stand for them."""
    return words if len(words) <= LONG else hashlib.sha256(words.encode()).hexdigest()[:12]
