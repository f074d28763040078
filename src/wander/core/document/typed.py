"""From what a designer types into a field to what is kept of it: text whose meaning does not depend on the unit that is shown."""

from __future__ import annotations

import re

from wander.core.document.expressions import LITERAL, UNITS, BadSyntax, ExpressionError, Kind, LengthUnit, Scope, evaluate, parse

_NUMBER = re.compile(rf"(?<![A-Za-z0-9_.]){LITERAL}")
_COMMA = re.compile(r"(?<![\d.,])(\d*),(\d+)(?![\d.,])")
_OF_PLAIN_NUMBERS = ("sqrt", "sin", "cos", "tan")


def with_default_unit(text: str, kind: Kind, unit: LengthUnit) -> float | str:
    """What to keep of a typed number. Raises BadSyntax.

    A plain number turns into mm, as do plain sums like 90/4 or sqrt(2)*10; a bare term of another sum gets the unit of the design.
    """
    typed = _with_points(text.strip())
    factor = evaluate(f"1 {unit.value}", Kind.LENGTH, Scope({})) if kind is Kind.LENGTH else 1.0
    try:
        number = evaluate(typed, Kind.NUMBER, Scope({})) * factor
        return typed if kind is Kind.NUMBER and not _NUMBER.fullmatch(typed.lstrip("+-")) else number
    except ExpressionError:
        # it holds a unit or a name, or means nothing, which is said by whoever reads it
        kept = typed if kind is Kind.NUMBER else _with_units(typed, unit.value if kind is Kind.LENGTH else "deg")
        parse(kept)
        return kept


def _with_points(text: str) -> str:
    """Decimal commas as points, where they can mean nothing else. Raises BadSyntax for 1,000, which may be one or a thousand."""
    if "(" in text or ";" in text:
        return text  # a comma between values

    def pointed(number: re.Match[str]) -> str:
        whole, decimals = number.groups()
        if len(decimals) == 3 and whole.strip("0"):
            raise BadSyntax(f"“{number[0]}” may be read in two ways: write {whole}{decimals}, or {whole}.{decimals}", text)
        return f"{whole}.{decimals}"

    return _COMMA.sub(pointed, text)


def _with_units(text: str, unit: str) -> str:
    """The text with a unit behind every number that stands alone in a sum; factors, divisors and what functions of plain numbers take stay."""

    def complete(number: re.Match[str]) -> str:
        before, after = text[: number.start()].rstrip()[-1:], text[number.end() :].lstrip()
        followed = after[:1]
        beside = followed and (followed.isalnum() or followed in "*/^_(×·÷" or followed in UNITS)
        alone = before not in ("*", "/", "^", "×", "·", "÷") and not beside and not _inside_function(text[: number.start()])
        return f"{number[0]} {unit}" if alone else number[0]

    return _NUMBER.sub(complete, text)


def _inside_function(before: str) -> bool:
    """Whether a bracket is open that belongs to a function of plain numbers."""
    opened: list[bool] = []
    for at, sign in enumerate(before):
        if sign == "(":
            opened.append(before[:at].rstrip().endswith(_OF_PLAIN_NUMBERS))
        elif sign == ")" and opened:
            opened.pop()
    return any(opened)
