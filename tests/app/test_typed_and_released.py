"""Numbers worked out while they are typed, and links let go, over the interface."""

from __future__ import annotations

import pytest

from tests.app.server import Server
from tests.app.test_interface import assert_problem


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("neck / 2 + 3 mm", "length", 20.0),
        ("1 in", "length", 25.4),
        ("90 deg / 4", "angle", 22.5),
        ("3", "count", 3.0),
        ("neck +", "length", None),
        ("nek", "length", None),
        ("__import__('os').getcwd()", "length", None),
    ],
)
def test_a_number_is_worth_what_the_design_says(server: Server, tarn: str, text: str, kind: str, value: float | None) -> None:
    found = server.client.get(f"/api/designs/{tarn}/worth", params={"text": text, "kind": kind})
    assert found.status_code == 200
    assert found.json()["value"] == pytest.approx(value) if value is not None else found.json()["value"] is None


def test_a_plain_number_is_in_the_unit_of_the_design(server: Server, tarn: str) -> None:
    server.edit(tarn, 1, {"do": "set-unit", "unit": "in"})
    assert server.client.get(f"/api/designs/{tarn}/worth", params={"text": "2", "kind": "length"}).json()["value"] == pytest.approx(50.8)


def test_only_what_follows_something_is_released_and_on_the_present_base(server: Server, tarn: str) -> None:
    edge = {"act": "add", "points": {}, "curves": [{"type": "trace", "of": {"step": "loft-13", "part": "ring:section-6"}, "id": "$t"}], "holds": []}
    station = {"do": "add-step", "kind": "station", "name": "Collar", "params": {"plane": "top", "offset": 172.0}, "alias": "$s"}
    shape = {"do": "add-step", "kind": "section", "name": "Collar", "params": {"station": {"step": "$s"}, "shape": {"type": "drawing"}}}
    server.edit(tarn, 1, station, shape)
    section = server.read(tarn)["document"]["steps"][-1]["id"]
    server.edit(tarn, 2, {"do": "draw", "step": section, "acts": [edge]})
    trace = server.read(tarn)["document"]["steps"][-1]["params"]["shape"]["curves"][0]["id"]

    def release(base: int, *things: str):  # type: ignore[no-untyped-def]
        return server.client.post(f"/api/designs/{tarn}/drawings/{section}/release", json={"base_revision": base, "things": list(things)})

    assert_problem(release(2, trace), 409, "stale-base")
    assert_problem(release(3, "p77"), 422, "release-refused")
    done = release(3, trace)
    assert done.status_code == 200, done.text
    assert {c["type"] for c in done.json()["document"]["steps"][-1]["params"]["shape"]["curves"]} == {"spline"}
