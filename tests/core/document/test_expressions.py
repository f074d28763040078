"""Numbers as people type them; and what must never be more than a number."""

from __future__ import annotations

import math
import re
from contextlib import suppress

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.soak import times
from wander.core.document.expressions import (
    BadSyntax,
    Circular,
    Dimension,
    ExpressionError,
    Kind,
    LengthUnit,
    Scope,
    UnknownName,
    WrongUnit,
    evaluate,
    parse,
    renamed,
    valid_name,
)
from wander.core.document.typed import with_default_unit

SCOPE = Scope(
    {
        "neck": Dimension(34.0, Kind.LENGTH),
        "belly": Dimension("neck*2 + 8 mm", Kind.LENGTH),
        "lean": Dimension(30.0, Kind.ANGLE),
        "half_turn": Dimension("lean * 6", Kind.ANGLE),
        "count": Dimension(6, Kind.NUMBER),
        "ring_a": Dimension("ring_b + 1 mm", Kind.LENGTH),
        "ring_b": Dimension("ring_a", Kind.LENGTH),
        "lost": Dimension("nek", Kind.LENGTH),
    }
)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("2 in + 3 mm", 53.8),
        ("neck/2", 17.0),
        ("neck*2 + 8 mm", 76.0),
        ("belly - 10mm", 66.0),
        ("1.5cm", 15.0),
        ("0.1 m", 100.0),
        ("1 ft", 304.8),
        ('2"', 50.8),
        ("10 / 2 mm", 5.0),
        ("1/3 in", 25.4 / 3),
        ("1 1/2 in", 38.1),
        ("3 in - 1/2 in", 63.5),
        ("10 mm/2 in * 1 mm", 10 / 50.8),
        ("8/2/4 in * 1 in^2", 25.4),
        ("sqrt(neck^2 - 256 mm^2)", 30.0),
        ("(neck^2 - 256 mm^2)^0.5", 30.0),
        ("sqrt(2) * 10 mm", 14.142135623730951),
        ("2 * pi * 5 mm", 31.41592653589793),
        ("10 mm * sin(30 deg) + 10 mm * cos(60)", 10.0),
        ("10 mm × tan(45°) ÷ 2 − 1 mm", 4.0),
        ("(3 mm + 1 cm) * 2", 26.0),
        ("-(2 mm)", -2.0),
        ("+4 mm", 4.0),
        ("max(neck, 4 cm)", 40.0),
        ("min(neck, 4 cm, 1 in)", 25.4),
        ("abs(-3 mm)", 3.0),
        ("2 ** 3 * 1 mm", 8.0),
        ("2^3 * 1 mm", 8.0),
        ("neck * count", 204.0),
        ("(neck * belly) / belly", 34.0),
        ("1e1 mm", 10.0),
        (".5 mm", 0.5),
        ("0", 0.0),
        ("neck - neck", 0.0),
    ],
)
def test_lengths(text: str, mm: float | None) -> None:
    if mm is None:
        with pytest.raises(WrongUnit):
            evaluate(text, Kind.LENGTH, SCOPE)
    else:
        assert_close(evaluate(text, Kind.LENGTH, SCOPE), mm, within=1e-9)


@pytest.mark.parametrize(("text", "degrees"), [("lean", 30), ("half_turn", 180), ("lean/2 + 5 deg", 20), ("1 rad", 57.29577951308232), ("90°", 90)])
def test_angles(text: str, degrees: float) -> None:
    assert_close(evaluate(text, Kind.ANGLE, SCOPE), degrees, within=1e-9)


@pytest.mark.parametrize(("text", "number"), [("count/2", 3), ("belly/neck", 76 / 34), ("7", 7)])
def test_plain_numbers(text: str, number: float) -> None:
    assert_close(evaluate(text, Kind.NUMBER, SCOPE), number, within=1e-12)


@pytest.mark.parametrize(
    "text",
    [
        "__import__('os')",
        "__import__('os').system('true')",
        "().__class__",
        "neck.real",
        "unit_of.mm.__class__",
        "open('x')",
        "[1, 2]",
        "lambda: 1",
        "1 if 1 else 2",
        "a := 3",
        "'34'",
        "True",
        "max()",
        "max(1, default=2)",
        "1 // 2",
        "1 % 2",
        "2 < 3",
        "",
        "   ",
        "3 +",
        "neck neck",
        "(" * 60 + "1" + ")" * 60 + "+",
        "-" * 100 + "1",
        "1" * 201,
        "9 ** 9 ** 9",
        "2 ** 99",
        "2 mm ** neck",
        "1 mm / 0",
        "1e300 mm * 1e300",
        "1e9 mm",
        "f'{neck}'",
        "neck; neck",
        "\x00",
        "1j",
    ],
)
def test_anything_else_is_refused(text: str) -> None:
    with pytest.raises(ExpressionError):
        evaluate(text, Kind.LENGTH, SCOPE)


@given(st.text(max_size=60))
def test_no_text_does_harm(text: str) -> None:
    with suppress(ExpressionError):
        assert isinstance(evaluate(text, Kind.LENGTH, SCOPE), float)


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("neck + 3", Kind.LENGTH),
        ("34", Kind.LENGTH),
        ("lean", Kind.LENGTH),
        ("neck", Kind.ANGLE),
        ("neck*neck", Kind.LENGTH),
        ("neck", Kind.NUMBER),
        ("neck + lean", Kind.LENGTH),
    ],
)
def test_wrong_units_are_told(text: str, kind: Kind) -> None:
    with pytest.raises(WrongUnit) as caught:
        evaluate(text, kind, SCOPE)
    assert text in str(caught.value)


def test_an_unknown_name_brings_the_nearest() -> None:
    with pytest.raises(UnknownName) as caught:
        evaluate("nek / 2", Kind.LENGTH, SCOPE)
    assert (caught.value.name, caught.value.nearest) == ("nek", "neck")
    with pytest.raises(UnknownName) as caught:
        evaluate("qqqqqq", Kind.LENGTH, SCOPE)
    assert caught.value.nearest is None


def test_a_ring_of_dimensions_is_told_as_one() -> None:
    with pytest.raises(Circular) as caught:
        evaluate("ring_a", Kind.LENGTH, SCOPE)
    assert caught.value.names == ["ring_a", "ring_b", "ring_a"]


def test_an_error_inside_a_dimension_comes_out() -> None:
    with pytest.raises(UnknownName):
        evaluate("lost * 2", Kind.LENGTH, SCOPE)


@pytest.mark.parametrize(
    ("typed", "kind", "unit", "kept"),
    [
        ("34", Kind.LENGTH, LengthUnit.MM, 34.0),
        ("34", Kind.LENGTH, LengthUnit.CM, 340.0),
        ("2", Kind.LENGTH, LengthUnit.IN, 50.8),
        ("neck/2 + 3", Kind.LENGTH, LengthUnit.CM, "neck/2 + 3 cm"),
        ("neck*2 + 3", Kind.LENGTH, LengthUnit.IN, "neck*2 + 3 in"),
        ("3 + neck", Kind.LENGTH, LengthUnit.MM, "3 mm + neck"),
        ("neck * 30", Kind.LENGTH, LengthUnit.MM, "neck * 30"),
        ("30 * neck - 1.5", Kind.LENGTH, LengthUnit.CM, "30 * neck - 1.5 cm"),
        ("size2 + 2", Kind.LENGTH, LengthUnit.MM, "size2 + 2 mm"),
        ("2 in + 3 mm", Kind.LENGTH, LengthUnit.CM, "2 in + 3 mm"),
        ("max(neck, 12)", Kind.LENGTH, LengthUnit.MM, "max(neck, 12 mm)"),
        ("-5", Kind.LENGTH, LengthUnit.MM, -5.0),
        ("45", Kind.ANGLE, LengthUnit.CM, 45.0),
        ("lean + 5 deg", Kind.ANGLE, LengthUnit.CM, "lean + 5 deg"),
        ("lean / 2 + 5", Kind.ANGLE, LengthUnit.MM, "lean / 2 + 5 deg"),
        ("90/4", Kind.ANGLE, LengthUnit.MM, 22.5),
        ("5/2", Kind.LENGTH, LengthUnit.IN, 63.5),
        ("2*(3+4)/7", Kind.NUMBER, LengthUnit.MM, "2*(3+4)/7"),
        ("6", Kind.NUMBER, LengthUnit.IN, 6.0),
    ],
)
def test_what_is_kept_does_not_depend_on_the_unit_shown(typed: str, kind: Kind, unit: LengthUnit, kept: float | str) -> None:
    assert with_default_unit(typed, kind, unit) == kept


@given(value=st.floats(-1e5, 1e5), unit=st.sampled_from(list(LengthUnit)))
def test_a_plain_number_means_the_unit_of_the_design(value: float, unit: LengthUnit) -> None:
    kept = with_default_unit(repr(value), Kind.LENGTH, unit)
    assert_close(
        float(kept),
        evaluate(f"{value!r} {unit.value}", Kind.LENGTH, SCOPE) if value >= 0 else -evaluate(f"{-value!r} {unit.value}", Kind.LENGTH, SCOPE),
        within=1e-6,
    )


def test_bad_text_is_refused_before_it_is_kept() -> None:
    with pytest.raises(BadSyntax):
        with_default_unit("__import__('os')", Kind.LENGTH, LengthUnit.MM)


@pytest.mark.parametrize(
    ("name", "fine"),
    [
        ("neck", True),
        ("neck_2", True),
        ("2neck", False),
        ("_neck", False),
        ("mm", False),
        ("max", False),
        ("größe", False),
        ("", False),
        ("a" * 41, False),
    ],
)
def test_names(name: str, fine: bool) -> None:
    assert valid_name(name) is fine


def test_renaming_takes_whole_words_only() -> None:
    assert renamed("neck + neck_2 + 2*neck", "neck", "throat") == "throat + neck_2 + 2*throat"


def test_parsing_is_remembered() -> None:
    assert parse("neck + 1 mm") is parse("neck + 1 mm")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("(belly^2 - 10000 mm^2)^0.5", "takes a root of something negative"),
        ("sqrt(-4 mm^2)", "takes a root of something negative"),
        ("unit_of.foo", "more than a number"),
        ("_unit.foo", "more than a number"),
        ("1e308 mm * 1e308", "no finite value"),
        ("3 kg", "kg is no unit"),
        ("sqrt(1, 2)", "more than a number"),
        ("neck ^ neck", "mixes things of different kinds"),
        ("neck * 2^9", "a power that makes no sense"),
        ("0^-1 * 1 mm", "no finite value"),
    ],
)
def test_what_has_no_value_is_told(text: str, said: str) -> None:
    with pytest.raises(ExpressionError, match=re.escape(said)):
        evaluate(text, Kind.LENGTH, SCOPE)


@pytest.mark.parametrize("value", [10**400, -(10**400), float("inf"), float("nan"), 1e300])
def test_numbers_out_of_range(value: float) -> None:
    with pytest.raises(BadSyntax, match="sensible range"):
        evaluate(value, Kind.LENGTH, SCOPE)


def test_a_table_may_be_one_long_chain() -> None:
    chain = {f"d{i}": Dimension(f"d{i + 1} + 1 mm", Kind.LENGTH) for i in range(500)} | {"d500": Dimension(2.0, Kind.LENGTH)}
    assert evaluate("d0", Kind.LENGTH, Scope(chain)) == 502.0
    ring = chain | {"d500": Dimension("d0", Kind.LENGTH)}
    with pytest.raises(Circular) as caught:
        evaluate("d3", Kind.LENGTH, Scope(ring))
    assert len(caught.value.names) == 502


def test_a_dimension_may_be_called_pi() -> None:
    assert evaluate("pi", Kind.LENGTH, Scope({"pi": Dimension(3.0, Kind.LENGTH)})) == 3.0


@pytest.mark.parametrize(
    ("typed", "kind", "unit", "mm"),
    [
        ("2,5", Kind.LENGTH, LengthUnit.MM, 2.5),
        ("neck + 2,5", Kind.LENGTH, LengthUnit.CM, 34.0 + 25.0),
        (",5", Kind.LENGTH, LengthUnit.IN, 12.7),
        ("0,125", Kind.LENGTH, LengthUnit.IN, 3.175),
        ("max(2,5)", Kind.LENGTH, LengthUnit.MM, 5.0),
        ("sqrt(2)*10", Kind.LENGTH, LengthUnit.CM, 141.4213562373095),
        ("sqrt(2)*neck", Kind.LENGTH, LengthUnit.CM, 34 * 1.4142135623730951),
        ("pi", Kind.LENGTH, LengthUnit.MM, 3.141592653589793),
        ("neck × 2 + 3", Kind.LENGTH, LengthUnit.MM, 71.0),
        ("2,5", Kind.ANGLE, LengthUnit.CM, 2.5),
    ],
)
def test_typed_as_people_type(typed: str, kind: Kind, unit: LengthUnit, mm: float) -> None:
    assert_close(evaluate(with_default_unit(typed, kind, unit), kind, SCOPE), mm, within=1e-12)


def test_a_comma_that_may_mean_a_thousand_is_asked_about() -> None:
    with pytest.raises(BadSyntax, match=r"write 1000, or 1\.000"):
        with_default_unit("1,000", Kind.LENGTH, LengthUnit.MM)


WORDS = ["mm", "in", "deg", "neck", "lost", "ring_a", "pi", "sqrt", "sin", "max", "unit_of", "_unit", "kg", "lambda"]
TYPED = st.lists(st.sampled_from([*'0123456789.,+-*/^()eE "°×−;_#', *WORDS]), max_size=24).map("".join)


@given(st.one_of(TYPED, st.text(max_size=40)), st.sampled_from(Kind), st.sampled_from(LengthUnit))
@settings(max_examples=times(600, 50000), deadline=None)
def test_whatever_is_typed_comes_to_a_finite_number_or_is_told(text: str, kind: Kind, unit: LengthUnit) -> None:
    with suppress(ExpressionError):
        kept = with_default_unit(text, kind, unit)
        assert isinstance(kept, str | float)
        found = evaluate(kept, kind, SCOPE)
        assert isinstance(found, float)
        assert math.isfinite(found)
