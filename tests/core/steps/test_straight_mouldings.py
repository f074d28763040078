"""Straight lengths with their ends cut at angles: frames of four, whose length and profile are changed afterwards."""

from __future__ import annotations

from typing import Any

import numpy as np

from tests.closeness import assert_close
from tests.core.design.designs import built, findings, set_param
from tests.core.steps.test_sweep_step import mended, the
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.findings import Severity

PROFILE: dict[str, Any] = {
    "type": "drawing",
    "points": {"p1": [0, 0], "p2": [12, 0], "p3": [12, 4], "p4": [5, 4], "p5": [5, 9], "p6": [0, 9]},
    "next": 20,
}
PROFILE["curves"] = [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i % 6 + 1}"} for i in range(1, 7)]
AREA, ARM = 12 * 4 + 5 * 5, (48 * 6 + 25 * 2.5) / (12 * 4 + 5 * 5)
"""Of the profile, and how far its middle lies from the sight edge, which is its y axis."""


def moulding(length: float | str = 50.0, **params: Any) -> Document:
    """Half of it on either side of a plane that holds the axis of a frame, 50 before its sight edge."""
    cut = {"ends": "cut", "far_across": 45.0, "near_across": 45.0}
    extrude = {"section": {"step": "section-2"}, "distance": length, "other": length, **cut, **params}
    steps = [
        {"id": "station-1", "kind": "station", "name": "Sight edge", "params": {"plane": "front"}},
        {"id": "section-2", "kind": "section", "name": "Profile", "params": {"station": {"step": "station-1"}, "shape": PROFILE}},
        {"id": "extrude-3", "kind": "extrude", "name": "Length", "params": extrude},
    ]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "dimensions": [], "steps": steps, "next": 4})


def volume(document: Document, step: str) -> float:
    summary: Any = built(document)[step].summary
    return float(summary.volume)


def test_a_length_cut_at_both_ends_follows_its_length_and_its_profile() -> None:
    document = moulding()
    assert not findings(document)
    assert_close(volume(document, "extrude-3"), AREA * (100 + 2 * ARM), within=1e-9, relative=True)
    longer = apply_edits(document, [set_param("extrude-3", "distance", to=80.0)])
    assert_close(volume(longer, "extrude-3"), AREA * (130 + 2 * ARM), within=1e-9, relative=True)
    # its foot 2 mm wider, 4 mm high, with its middle at 13
    wider = apply_edits(document, [set_param("section-2", "shape", "points", name, to=[14, y]) for name, y in (("p2", 0), ("p3", 4))])
    assert_close(volume(wider, "extrude-3") - volume(document, "extrude-3"), 8 * (100 + 2 * 13), within=1e-6)


def test_four_copies_meet_in_their_mitres() -> None:
    document = moulding()
    way = {"type": "axis", "axis": "z", "about": [-50, 0, 0]}
    frame = {"id": "repeat-4", "kind": "repeat", "name": "Frame", "params": {"body": {"step": "extrude-3"}, "count": 4, "way": way}}
    whole = Document.model_validate({**document.model_dump(), "steps": [*(step.model_dump() for step in document.steps), frame], "next": 5})
    assert_close(volume(whole, "repeat-4"), 4 * AREA * (100 + 2 * ARM), within=1e-9, relative=True)
    for changed in (whole, apply_edits(whole, [set_param("section-2", "shape", "points", "p2", to=[15, -1])])):
        ends = {"near": [], "far": []}
        for skin in built(changed)["repeat-4"].result.skins:
            for end, cap in zip(ends, skin.caps, strict=True):
                ends[end].append(np.concatenate([curve.sampled(8)[1] for curve in cap.boundary]))
        for far in ends["far"]:
            apart = min(max(np.linalg.norm(near - place, axis=1).min() for place in far) for near in ends["near"])
            assert apart < 1e-6


def test_ends_that_cross_are_made_square_or_long_enough() -> None:
    short = moulding(2.0, far_across=-60.0, near_across=-60.0)
    assert the("ends-meet", short).severity is Severity.ERROR
    longer = mended("ends-meet", short)
    assert not findings(longer)
    mended("ends-meet", short, 1)
    steep = moulding(far_across=89.5)
    assert the("no-body", steep)
    leaning = moulding(taper=3.0)
    assert not findings(mended("no-body", leaning))
