"""A design on which everything has been done to a body."""

from __future__ import annotations

import json
from typing import Any


def worked() -> bytes:
    """A vessel lofted through five sections, a collar joined to it, a bore cut from it, and three of it in a row."""
    steps: list[dict[str, Any]] = []

    def add(kind: str, params: dict[str, Any]) -> dict[str, str]:
        step = f"{kind}-{len(steps) + 1}"
        steps.append({"id": step, "kind": kind, "name": f"{kind.title()} {len(steps) + 1}", "params": params})
        return {"step": step}

    def section(offset: float, diameter: float) -> dict[str, str]:
        station = add("station", {"plane": "top", "offset": offset})
        return add("section", {"station": station, "shape": {"type": "circle", "diameter": diameter}})

    rings = [section(offset, diameter) for offset, diameter in ((0, 60), (30, 76), (60, 70), (85, 58), (100, 64))]
    vessel = add("loft", {"sections": [{"section": ring} for ring in rings]})
    collar = section(70.0, 90.0)
    joined = add("extrude", {"section": collar, "distance": 6.0, "result": {"type": "join", "body": vessel}})
    bore = section(40.0, 40.0)
    cut = add("extrude", {"section": bore, "distance": 80.0, "result": {"type": "cut", "body": joined}})
    add("repeat", {"body": cut, "count": 3, "way": {"type": "line", "by": [110.0, 0.0, 0.0]}})
    return json.dumps({"format": "wander-design/1", "name": "Worked", "steps": steps, "next": len(steps) + 1}).encode()
