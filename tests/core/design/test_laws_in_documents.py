"""Laws and ends as parameters, building up to a step, dimensions renamed; and that nothing a designer sets takes the rebuild down."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from tests.core.solids.kernel_count import counted_by_kernel
from tests.soak import times
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.design.exact import kernel_refused
from wander.core.design.rebuild import State
from wander.core.document.edits import BuildUpTo, RemoveStep, RenameDimension, SetDimension
from wander.core.document.expressions import Kind
from wander.core.document.findings import Severity
from wander.core.solids.errors import KernelError

FRUSTUM = lofted((0, circle("wide")), (60, circle("wide")), dimensions=(("wide", 30.0), ("half", "wide/2")))


def volume(document: Any) -> float:
    return float(built(document)["loft-5"].summary.volume)


def test_a_scale_law_with_an_expression() -> None:
    law = {"type": "linear", "start": 1.0, "end": "half / wide"}
    document = apply_edits(FRUSTUM, [set_param("loft-5", "width", to=law)])
    expected = 3.141592653589793 * 60 * (15**2 + 15 * 7.5 + 7.5**2) / 3
    assert_close(volume(document), expected, within=1e-7 * expected)
    assert built(document)["loft-5"].values == {"width.end": 0.5}


def test_twist_values_are_degrees_on_every_side() -> None:
    law = {"type": "points", "points": [{"at": 0.0, "value": 0.0}, {"at": 1.0, "value": "pi_ish * 10 deg"}]}
    document = lofted((0, {"type": "rectangle", "width": 20.0, "depth": 10.0}), (40, {"type": "rectangle", "width": 20.0, "depth": 10.0}))
    three = SetDimension(do="set-dimension", name="pi_ish", value=3.0, kind=Kind.NUMBER)
    document = apply_edits(document, [three, set_param("loft-5", "twist", to=law)])
    step = built(document)["loft-5"]
    assert_close(step.values["twist.points.1.value"], 30.0, within=1e-9)
    assert_close(step.summary.lanes.twist[-1], 30.0, within=1e-9)
    assert_close(step.summary.run[1].wring, 30.0, within=1e-6)


def test_width_and_height_apart() -> None:
    law = {"type": "constant", "value": 0.5}
    both = apply_edits(FRUSTUM, [set_param("loft-5", "width", to=law)])
    one = apply_edits(both, [set_param("loft-5", "together", to=False)])
    assert_close(volume(both) * 4, volume(FRUSTUM), within=1e-6)
    assert_close(volume(one) * 2, volume(FRUSTUM), within=1e-6)


def test_building_up_to_a_step_leaves_the_rest_for_later() -> None:
    document = apply_edits(FRUSTUM, [BuildUpTo(do="build-up-to", step="section-2")])
    states = {k: b.state for k, b in built(document).items()}
    assert states["section-2"] is State.READY
    assert states["station-3"] is states["loft-5"] is State.BEYOND
    assert built(apply_edits(document, [BuildUpTo(do="build-up-to", step=None)]))["loft-5"].state is State.READY
    assert apply_edits(document, [RemoveStep(do="remove-step", step="section-2")]).until is None


def test_a_renamed_dimension_is_followed_everywhere() -> None:
    document = apply_edits(FRUSTUM, [RenameDimension(do="rename-dimension", name="wide", to="girth")])
    assert [(d.name, d.value) for d in document.dimensions] == [("girth", 30.0), ("half", "girth/2")]
    assert document.step("section-2").params["shape"]["diameter"] == "girth"
    assert_close(volume(document), volume(FRUSTUM), within=1e-12 * volume(FRUSTUM))
    for name, to in (("nothing", "x"), ("wide", "half"), ("wide", "mm")):
        with pytest.raises(EditRefused):
            apply_edits(FRUSTUM, [RenameDimension(do="rename-dimension", name=name, to=to)])


def test_a_body_scaled_to_nothing_is_a_finding_with_its_repair() -> None:
    document = apply_edits(FRUSTUM, [set_param("loft-5", "width", to={"type": "linear", "start": 1.0, "end": -0.2})])
    found = findings(document)
    assert [f.code for f in found] == ["scale-vanishes"]
    assert findings(apply_edits(document, found[0].fixes[0].edits)) == []


def test_a_body_without_length_is_a_finding() -> None:
    tilted = {"type": "turned", "station": {"step": "station-1"}, "angle": 20.0}
    law = {"type": "constant", "value": 2.0}
    edits = [set_param("station-3", "place", to=tilted), set_param("station-3", "offset", to=0.0), set_param("section-4", "at", to=[0.0, 50.0])]
    edits.append(set_param("loft-5", "width", to=law))
    found = findings(apply_edits(FRUSTUM, edits))
    assert [f.code for f in found] == ["no-skin"]
    assert "no length" in found[0].detail


def test_points_of_a_law_out_of_order_are_a_finding() -> None:
    law = {"type": "points", "points": [{"at": 0.6, "value": 1.0}, {"at": 0.2, "value": 2.0}]}
    found = findings(apply_edits(FRUSTUM, [set_param("loft-5", "twist", to=law)]))
    assert [f.code for f in found] == ["no-skin"]
    assert "rise from 0 to 1" in found[0].detail


values = st.floats(-400, 400)
factors = st.floats(-1.5, 3.0)


def laws(numbers: st.SearchStrategy[float]) -> st.SearchStrategy[Any]:
    point = st.fixed_dictionaries({"at": st.floats(-0.2, 1.2), "value": numbers, "sharp": st.booleans()})
    return st.one_of(
        st.none(),
        st.fixed_dictionaries({"type": st.just("constant"), "value": numbers}),
        st.fixed_dictionaries({"type": st.sampled_from(["linear", "smooth"]), "start": numbers, "end": numbers}),
        st.fixed_dictionaries(
            {"type": st.just("points"), "points": st.lists(point, min_size=1, max_size=4).map(lambda ps: sorted(ps, key=lambda p: p["at"]))}
        ),
    )


shapes = st.one_of(
    st.floats(2, 60).map(circle),
    st.just({"type": "rectangle", "width": 30.0, "depth": 12.0}),
    st.just({"type": "foil", "chord": 40.0, "thickness": 0.12, "camber": 0.02, "crest": 0.4}),
    st.just({"type": "point"}),
)
ends = st.fixed_dictionaries(
    {"shape": st.sampled_from(["free", "square", "angle", "domed"]), "angle": st.floats(-80, 80), "fullness": st.floats(-1, 4)}
)


@settings(max_examples=times(24, 300))
@given(
    stands=st.lists(st.tuples(st.floats(-80, 80).map(lambda z: round(z, 1)), shapes), min_size=2, max_size=4),
    tilt=st.floats(-60, 60),
    twist=laws(values),
    width=laws(factors),
    about=st.sampled_from(["section", "riding", "spine"]),
    start=ends,
    end=ends,
    between=st.sampled_from(["smooth", "straight"]),
)
def test_whatever_is_set_gives_a_valid_solid_or_a_finding(stands, tilt, twist, width, about, start, end, between) -> None:
    document = lofted(*stands, between=between)
    loft = document.steps[-1].id
    tilted = {"type": "turned", "station": {"step": "station-1"}, "angle": tilt}
    wanted = {"twist": twist, "width": width, "about": about, "start": start, "end": end}
    edits = [set_param(loft, name, to=value) for name, value in wanted.items()]
    document = apply_edits(document, [*edits, set_param("station-3", "place", to=tilted)])
    step = built(document)[loft]
    if step.state is not State.READY:
        assert any(f.severity in (Severity.ERROR, Severity.NOTE) for f in step.findings)
        return
    try:
        volume = counted_by_kernel(step.result)
    except KernelError as error:
        event("refused by the kernel")
        told = kernel_refused(document.steps[-1], error)
    else:
        told = None
    if told is not None:
        assert told.code == "no-solid"
        assert "does not close into one valid solid: " in told.detail
    else:
        assert_close(volume, step.summary.volume, within=1e-6 * step.summary.volume)


@settings(max_examples=25)
@given(
    sizes=st.lists(st.floats(15, 45), min_size=2, max_size=4),
    twist=st.floats(-120, 120),
    ease=st.sampled_from(["linear", "smooth"]),
    width=st.floats(0.4, 1.8),
    end=st.sampled_from(["free", "square"]),
)
def test_within_what_a_designer_does_it_is_always_a_valid_solid(sizes, twist, ease, width, end) -> None:
    rounded = [{"type": "rounded-rectangle", "width": a, "depth": 0.7 * a, "radius": 0.2 * a} for a in sizes]
    document = lofted(*[(40.0 * i, shape) for i, shape in enumerate(rounded)])
    loft = document.steps[-1].id
    wanted = {
        "twist": {"type": ease, "start": 0.0, "end": twist},
        "width": {"type": ease, "start": 1.0, "end": width},
        "end": {"shape": end, "angle": 0.0, "fullness": 1.0},
    }
    step = built(apply_edits(document, [set_param(loft, name, to=value) for name, value in wanted.items()]))[loft]
    assert step.state is State.READY
    assert_close(counted_by_kernel(step.result), step.summary.volume, within=1e-6 * step.summary.volume)


def test_a_leaning_station_at_the_same_place_is_a_finding() -> None:
    document = lofted((0.0, {"type": "rectangle", "width": 30.0, "depth": 12.0}), (0.0, circle(5.0)))
    leaning = {"type": "turned", "station": {"step": "station-1"}, "angle": 1.0}
    step = built(apply_edits(document, [set_param("station-3", "place", to=leaning)]))["loft-5"]
    assert [f.code for f in step.findings] == ["same-plane"]
    assert "stand at the same place" in step.findings[0].title
