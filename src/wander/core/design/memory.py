"""What a process remembers of builds: results by key, bounded in bytes, and behind them a shelf on disk that several processes share."""

from __future__ import annotations

import pickle
import zlib
from collections import OrderedDict
from collections.abc import Callable
from typing import Protocol

from wander.core.design.step_reading import StepReadings
from wander.core.design.tools import Tools
from wander.core.drawing.drafted import Draftings
from wander.core.steps.inputs import Built, StepRefused

LITTLE = 512
"""Bytes that a result takes at the least, for the count."""
MOST_REFUSALS = 400


class Results(Protocol):
    """Bytes by key, kept somewhere that outlives this process."""

    def read(self, key: str) -> bytes | None: ...

    def put(self, key: str, data: bytes) -> None: ...


Files = Callable[[str], bytes | None]


class Memory:
    """Results by key, those used least recently dropped first. shelf: where results are looked for that this process has not made itself.

    files: gives data that was brought into designs, by its key.
    """

    def __init__(self, shelf: Results | None = None, most_bytes: int = 192 * 2**20, files: Files = lambda key: None) -> None:
        self.files = files
        self.readings = StepReadings()
        self.draftings = Draftings()
        self.tools = Tools()
        self._shelf = shelf
        self._most = most_bytes
        self._bytes = 0
        self._kept: OrderedDict[str, tuple[Built, int]] = OrderedDict()
        self._lasting: set[str] = set()
        self._refused: OrderedDict[str, StepRefused] = OrderedDict()

    @property
    def bytes(self) -> int:
        """What is kept here takes about so many bytes."""
        return self._bytes

    def get(self, key: str, *, lasting: bool = False) -> Built | None:
        """lasting: it is worth a place on the shelf by now, where it has none yet."""
        found = self._kept.get(key)
        if found is not None:
            self._kept.move_to_end(key)
            if lasting and key not in self._lasting:
                self.put(key, found[0], lasting=True)
            return found[0]
        data = self._shelf.read(key) if self._shelf is not None else None
        if data is None:
            return None
        try:
            built: Built = pickle.loads(zlib.decompress(data))  # our own bytes, from our own folder
        except (pickle.UnpicklingError, zlib.error, EOFError, AttributeError, ImportError, ValueError, TypeError):
            return None  # written by another version, or half of it: it is made anew
        self._lasting.add(key)
        self._keep(key, built, 4 * len(data))
        return built

    def put(self, key: str, built: Built, *, lasting: bool) -> None:
        """lasting: worth a place on the shelf; what a drag passes through is not."""
        if lasting and self._shelf is not None:
            data = zlib.compress(pickle.dumps(built, pickle.HIGHEST_PROTOCOL), 1)
            self._shelf.put(key, data)
            self._lasting.add(key)
            self._keep(key, built, 4 * len(data))
        else:
            self._keep(key, built, _size(built.result))

    def refusal(self, key: str) -> StepRefused | None:
        """Why a step with this key can't be built, where that is known."""
        return self._refused.get(key)

    def refuse(self, key: str, refused: StepRefused) -> None:
        self._refused[key] = refused
        if len(self._refused) > MOST_REFUSALS:
            self._refused.popitem(last=False)

    def _keep(self, key: str, built: Built, size: int) -> None:
        if key in self._kept:
            self._bytes -= self._kept.pop(key)[1]
        self._kept[key] = (built, size + LITTLE)
        self._bytes += size + LITTLE
        while self._bytes > self._most and len(self._kept) > 1:
            self._drop_oldest()

    def shrink(self) -> None:
        """Forget the older half."""
        self.tools.forget()
        half = self._bytes / 2
        while self._bytes > half and self._kept:
            self._drop_oldest()

    def _drop_oldest(self) -> None:
        key, (_, size) = self._kept.popitem(last=False)
        self._lasting.discard(key)
        self._bytes -= size


def _size(result: object, depth: int = 0) -> int:
    """About how many bytes of arrays hang on a result."""
    nbytes = getattr(result, "nbytes", None)
    if isinstance(nbytes, int):
        return nbytes
    if isinstance(result, bytes):
        return len(result)
    if depth > 8:
        return 0
    if isinstance(result, tuple | list):
        return sum(_size(item, depth + 1) for item in result)
    fields = getattr(result, "__dataclass_fields__", None)
    return 64 + sum(_size(getattr(result, name), depth + 1) for name in fields) if fields else 64
