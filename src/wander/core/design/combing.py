"""The combs of a body of a design: on its skins, and on the rails that lead it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import orjson

from wander.core.bodies.body import Body
from wander.core.bodies.combs import combs, curve_combs, skin_combs
from wander.core.document.document import Document
from wander.core.results.rails import Rail
from wander.core.shaping.shell import Shell


def combs_told(document: Document, step: str, results: Mapping[str, Any], skins: Sequence[Shell] | None = None) -> bytes | None:
    """The combs of the body that a step makes, in JSON as CombOut has them: places to 1e-5 mm, bends to 1e-9/mm. None where it makes none.

    results: of the steps that are built, by their ids. skins: those of the body itself, where they are there and it is not yet.
    """
    body = results.get(step)
    if skins is not None:
        found = skin_combs(skins)
    elif isinstance(body, Body):
        found = combs(body)
    else:
        return None
    params = next(one.params for one in document.steps if one.id == step)
    rails = [results.get(ref.get("step", "")) for ref in params.get("rails", []) if isinstance(ref, dict)]
    found += curve_combs([rail.curve for rail in rails if isinstance(rail, Rail)])
    return orjson.dumps([{"points": comb.points.round(5).tolist(), "bends": comb.bends.round(9).tolist()} for comb in found])
