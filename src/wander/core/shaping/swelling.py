"""How far the skin of a loft swells between its sections."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.shaping.bounds import swelling
from wander.core.shaping.lengthwise import ROUND
from wander.core.shaping.loft import Plain
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.unit_span import LOOKED


def swollen(plain: Plain, sections: Sequence[PlacedSection]) -> tuple[float, Floats]:
    """How far a smooth skin swells most between two sections that lead, as a share of the larger step beside it, and where (3,).

    plain: of a loft through three sections or more. sections: of the loft, from which the line of centres follows.
    """
    if plain.line is not None:
        sections = plain.line.straightened([*sections, sections[0]] if plain.line.closed else sections)
    leads = [i for i, section in enumerate(sections) if section.share is None]
    v, bays = plain.places[leads], len(leads) - 1
    at = (v[:-1, None] + np.diff(v)[:, None] * LOOKED).ravel()
    around, skin = (np.concatenate([face.surface.grid(ROUND, places) for face in plain.faces]).transpose(1, 0, 2) for places in (v, at))
    centers = np.stack([sections[i].center for i in leads])
    space, matrix = cubic_system(v, End.NATURAL)
    line = space.evaluate(np.linalg.solve(matrix, np.concatenate([centers, np.zeros((2, 3))]))[:, None], at)
    most, where = swelling(v, around - centers[:, None], (skin - line).reshape(bays, len(LOOKED), -1, 3))
    bay = int(most.argmax())
    row, number = where[bay]
    place = skin.reshape(bays, len(LOOKED), -1, 3)[bay, row, number]
    return float(most[bay]), place if plain.line is None else plain.line.onto(at.reshape(bays, -1)[bay, [row]], place[None, None])[0, 0]
