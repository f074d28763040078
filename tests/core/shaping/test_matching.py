"""Corner matching: the pairs a person would draw."""

from __future__ import annotations

import numpy as np
import pytest

from tests.closeness import assert_close
from wander.core.shaping.matching import Mark, follow, match

QUARTER = np.pi / 2


def marks(*positions: float, turn: float = QUARTER) -> list[Mark]:
    return [Mark(p, turn) for p in positions]


@pytest.mark.parametrize(
    ("before", "after", "pairs"),
    [
        (marks(0, 0.25, 0.5, 0.75), marks(0, 0.25, 0.5, 0.75), [(0, 0), (1, 1), (2, 2), (3, 3)]),
        (marks(0, 0.25, 0.5, 0.75), marks(0, 0.1, 0.5, 0.6), [(0, 0), (1, 1), (2, 2), (3, 3)]),
        (marks(0.98, 0.3), marks(0.02, 0.3), [(0, 0), (1, 1)]),
        (marks(0.0, 0.5), marks(), []),
        (marks(), marks(0.0), []),
    ],
)
def test_pairs(before: list[Mark], after: list[Mark], pairs: list[tuple[int, int]]) -> None:
    assert sorted(match(before, after)) == pairs


def test_the_odd_corner_stays_alone() -> None:
    triangle = [Mark(i / 3, 2 * np.pi / 3) for i in range(3)]
    found = match(triangle, marks(0, 0.25, 0.5, 0.75))
    assert (0, 0) in found
    assert len(found) == 3
    assert len({b for _, b in found}) == 3


def test_corners_of_opposite_turning_do_not_pair() -> None:
    assert match(marks(0.2), marks(0.2, turn=-QUARTER)) == []


def test_pairs_keep_the_cyclic_order() -> None:
    rng = np.random.default_rng(11)
    for _ in range(30):
        a, b = (np.sort(rng.uniform(0, 1, n)) for n in (5, 7))
        found = match([Mark(x, 1.0) for x in a], [Mark(x, 1.0) for x in b])
        order = [j for _, j in sorted(found)]
        turned = [(j - order[0]) % 7 for j in order]
        assert turned == sorted(turned)


def test_a_track_passes_smooth_sections_and_is_found_again() -> None:
    square = marks(0, 0.25, 0.5, 0.75)
    tracks = follow([square, [], square])
    assert len(tracks) == 4
    for track, place in zip(tracks, (0, 0.25, 0.5, 0.75), strict=True):
        assert_close(track.positions, np.full(3, place), within=1e-12)
        assert track.owners == {0, 2}


def test_a_track_that_begins_late_is_carried_back_in_proportion() -> None:
    tracks = follow([marks(0.0, 0.4), marks(0.0, 0.5), marks(0.0, 0.25, 0.5)])
    assert len(tracks) == 3
    late = next(track for track in tracks if track.owners == {2})
    assert_close(late.positions, [0.2, 0.25, 0.25], within=1e-12)


def test_the_order_of_tracks_is_the_same_in_all_sections() -> None:
    rng = np.random.default_rng(5)
    for _ in range(40):
        sections = [[Mark(p, 1.0) for p in np.sort(rng.uniform(0, 1, rng.integers(0, 6)))] for _ in range(5)]
        tracks = follow(sections)
        for i in range(5):
            places = np.array([track.positions[i] for track in tracks])
            assert not np.isnan(places).any()
            if len(places) > 1:
                turned = (places - places[0] + 1e-12) % 1.0
                assert np.all(np.diff(turned) >= -1e-9)
