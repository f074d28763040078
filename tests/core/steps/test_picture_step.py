"""Reference pictures as steps: on their station, scaled by two places, never part of what is built."""

from __future__ import annotations

from math import hypot
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.document.document import Document
from wander.core.document.edits import Edit, ScalePicture
from wander.core.results.summaries import PictureSummary

place = st.tuples(st.floats(-80, 80), st.floats(-80, 80))


def with_picture(**params: Any) -> Document:
    raw = lofted((0, circle(40)), (100, circle(30))).model_dump(mode="json")
    params = {"station": {"step": "station-3"}, "picture": "0" * 32, **params}
    raw["steps"].append({"id": "picture-9", "kind": "picture", "name": "Sketch", "params": params})
    return Document.model_validate({**raw, "next": 10})


def scale(first: tuple[float, float], second: tuple[float, float], distance: float | str) -> Edit:
    return ScalePicture(do="scale-picture", step="picture-9", first=first, second=second, distance=distance)


def summary(document: Document) -> PictureSummary:
    found = built(document)["picture-9"].summary
    assert isinstance(found, PictureSummary)
    return found


@given(first=place, second=place, distance=st.floats(1, 400), at=place, width=st.floats(5, 300))
def test_two_places_end_up_as_far_apart_as_was_typed(
    first: tuple[float, float], second: tuple[float, float], distance: float, at: tuple[float, float], width: float
) -> None:
    if hypot(second[0] - first[0], second[1] - first[1]) < 1:
        return
    document = with_picture(at=list(at), width=width)
    scaled = summary(apply_edits(document, [scale(first, second, distance)]))

    def carried(spot: tuple[float, float]) -> np.ndarray:
        """Where a spot of the picture is after it was scaled."""
        share = (np.array(spot) - at) / width
        return np.asarray(scaled.at) + share * scaled.width

    assert_close(carried(first), first, within=1e-9 * 1e3)
    assert_close(np.linalg.norm(carried(second) - carried(first)), distance, within=1e-9 * distance)


def test_the_distance_is_typed_with_units_and_names_and_the_picture_follows_its_station() -> None:
    document = with_picture(width=50.0)
    assert_close(summary(apply_edits(document, [scale((0, 0), (10, 0), "1 in")])).width, 127.0, within=1e-9)
    moved = apply_edits(document, [set_param("station-3", "offset", to=140.0)])
    assert_close(summary(moved).origin, [0, 0, 140], within=1e-12)


@pytest.mark.parametrize(("second", "distance"), [((0.0, 0.0), 10.0), ((5.0, 0.0), 0.0), ((5.0, 0.0), "nothing")])
def test_what_can_not_be_scaled_is_refused(second: tuple[float, float], distance: float | str) -> None:
    with pytest.raises(EditRefused):
        apply_edits(with_picture(), [scale((0, 0), second, distance)])


def test_a_picture_of_no_width_is_a_finding_and_its_repair_helps() -> None:
    document = with_picture(width=0.0)
    found = next(f for f in findings(document) if f.code == "picture-vanishes")
    assert not findings(apply_edits(document, found.fixes[0].edits))


def test_fading_a_picture_builds_nothing_else_anew() -> None:
    document = with_picture()
    before = {b.step: b.key for b in built(document).values()}
    after = {b.step: b.key for b in built(apply_edits(document, [set_param("picture-9", "fade", to=0.8)])).values()}
    assert [step for step in before if before[step] != after[step]] == ["picture-9"]
