"""Numbers as designers type them: units, arithmetic, named dimensions.

`2 in + 3 mm`, `neck/2`, `max(wall, 1.2 mm)`. The text is parsed to a syntax tree and only a handful of node types is walked; nothing
is ever executed.
"""

from __future__ import annotations

import ast
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import Enum
from functools import lru_cache
from typing import Any

import pint


class Kind(Enum):
    """What a number measures. Plain numbers in a document are mm, degrees and counts."""

    LENGTH = "length"
    ANGLE = "angle"
    NUMBER = "number"


class LengthUnit(Enum):
    """The unit a design is shown in."""

    MM = "mm"
    CM = "cm"
    IN = "in"


class ExpressionError(ValueError):
    """Root of everything that can be wrong with a number. `text` is what was typed."""

    code = "bad-expression"

    def __init__(self, message: str, text: str) -> None:
        super().__init__(message)
        self.text = text


class BadSyntax(ExpressionError):
    """It can't be read as a number at all, or uses something that is not allowed."""


class UnknownName(ExpressionError):
    """A name that is no unit and no named dimension; `name`, and the nearest known one in `nearest`."""

    code = "unknown-name"

    def __init__(self, name: str, nearest: str | None, text: str) -> None:
        super().__init__(f"there is no dimension called “{name}”" + (f"; did you mean “{nearest}”?" if nearest else ""), text)
        self.name = name
        self.nearest = nearest


class WrongUnit(ExpressionError):
    """The result does not measure what the field needs, or unlike things are added."""

    code = "wrong-unit"


class Circular(ExpressionError):
    """A named dimension that needs itself; `names` is the ring."""

    code = "circular-dimension"

    def __init__(self, names: list[str], text: str) -> None:
        super().__init__(f"these dimensions need each other: {' → '.join(names)}", text)
        self.names = names


_REGISTRY: Any = pint.UnitRegistry(None)
for _definition in ("mm = [length]", "cm = 10 * mm", "m = 1000 * mm", "inch = 25.4 * mm", "ft = 12 * inch", "deg = [angle]"):
    _REGISTRY.define(_definition)
_REGISTRY.define(f"rad = {180 / math.pi!r} * deg")

_UNITS = {"mm": "mm", "cm": "cm", "m": "m", "in": "inch", '"': "inch", "ft": "ft", "deg": "deg", "°": "deg", "rad": "rad"}
_BASE = {Kind.LENGTH: "mm", Kind.ANGLE: "deg", Kind.NUMBER: ""}
_LITERAL = r"(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_MEASURED = re.compile(rf"({_LITERAL})\s*(mm|cm|m|in|ft|deg|rad|\"|°)(?![A-Za-z0-9_])")
_NUMBER = re.compile(rf"(?<![A-Za-z0-9_.]){_LITERAL}")
_NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]{0,39}")
_FUNCTIONS: dict[str, Any] = {"min": min, "max": max, "abs": abs}
LONGEST = 200


@dataclass(frozen=True)
class Dimension:
    """A named dimension as it stands in the document."""

    value: float | str
    kind: Kind


@dataclass
class Scope:
    """The named dimensions that expressions may use; values are worked out once, when first asked for."""

    dimensions: Mapping[str, Dimension]
    _known: dict[str, Any] = field(default_factory=dict)
    _open: list[str] = field(default_factory=list)

    def quantity(self, name: str, text: str) -> Any:
        if name in self._known:
            return self._known[name]
        if name not in self.dimensions:
            raise UnknownName(name, _nearest(name, self.dimensions), text)
        if name in self._open:
            raise Circular([*self._open[self._open.index(name) :], name], text)
        dimension = self.dimensions[name]
        self._open.append(name)
        try:
            magnitude = evaluate(dimension.value, dimension.kind, self)
        finally:
            self._open.pop()
        self._known[name] = _REGISTRY.Quantity(magnitude, _BASE[dimension.kind])
        return self._known[name]


def valid_name(name: str) -> bool:
    """Whether a dimension may be called this."""
    return bool(_NAME.fullmatch(name)) and name not in _UNITS and name not in _FUNCTIONS


def evaluate(value: float | str, kind: Kind, scope: Scope) -> float:
    """The number in mm, degrees or as a count. Raises ExpressionError; a plain number is taken as it is."""
    if isinstance(value, int | float):
        return _finite(float(value), str(value))
    result = _walk(parse(value), scope, value)
    if not isinstance(result, pint.Quantity):
        if kind is Kind.NUMBER or result == 0:
            return _finite(float(result), value)
        raise WrongUnit(f"“{value}” has no unit: write {result:g} {_BASE[kind]}, say", value)
    try:
        return _finite(float(result.to(_BASE[kind] or "dimensionless").magnitude), value)
    except pint.DimensionalityError:
        raise WrongUnit(f"“{value}” is {_measures(result)}, and {_wanted(kind)} is needed here", value) from None


@lru_cache(maxsize=2048)
def parse(text: str) -> ast.expr:
    """The syntax tree of a number. Raises BadSyntax on anything but arithmetic, units, names, min, max and abs."""
    if len(text) > LONGEST:
        raise BadSyntax(f"a number is at most {LONGEST} characters long", text[:LONGEST] + "…")
    measured = _MEASURED.sub(lambda m: f"({m[1]} * unit_of.{_UNITS[m[2]]})", text.strip().replace("^", "**"))
    try:
        tree = ast.parse(measured, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        raise BadSyntax(f"“{text}” can't be read as a number", text) from None
    _allow(tree, text, 0)
    return tree


def with_default_unit(text: str, kind: Kind, unit: LengthUnit) -> float | str:
    """What to keep of a typed number: a plain number turns into mm, a bare term of a sum gets the design's unit, 90/4 becomes a number.

    The stored text never depends on the unit shown, so changing that unit never changes the shape.
    """
    bare = text.strip()
    if kind is not Kind.NUMBER:
        bare = _with_units(bare, unit.value if kind is Kind.LENGTH else "deg")
    try:
        number = float(text)
    except ValueError:
        if kind is Kind.NUMBER or any(c.isalpha() or c in '°_"' for c in bare):
            parse(bare)
            return bare
        # plain arithmetic, as in 90/4, is worked out at once
        number = evaluate(bare, Kind.NUMBER, Scope({}))
    if kind is not Kind.LENGTH:
        return number
    factor: float = _REGISTRY.Quantity(1.0, _UNITS[unit.value]).to("mm").magnitude
    return number * factor


def _with_units(text: str, unit: str) -> str:
    """The text with a unit behind every number that stands alone in a sum; factors and divisors stay as they are."""

    def complete(number: re.Match[str]) -> str:
        before, after = text[: number.start()].rstrip()[-1:], text[number.end() :].lstrip()[:1]
        alone = before not in ("*", "/", "^") and not (after and (after.isalnum() or after in '*/^_("°'))
        return f"{number[0]} {unit}" if alone else number[0]

    return _NUMBER.sub(complete, text)


def renamed(text: str, old: str, new: str) -> str:
    """The expression with one name replaced where it stands as a whole word."""
    return re.sub(rf"(?<![A-Za-z0-9_]){re.escape(old)}(?![A-Za-z0-9_])", new, text)


def _allow(node: ast.AST, text: str, depth: int) -> None:
    if depth > 40:
        raise BadSyntax(f"“{text}” is nested too deeply", text)
    if isinstance(node, ast.Constant):
        fine = isinstance(node.value, int | float) and not isinstance(node.value, bool)
    elif isinstance(node, ast.Attribute):
        if isinstance(node.value, ast.Name) and node.value.id == "unit_of":
            return
        fine = False
    elif isinstance(node, ast.Name):
        fine = bool(_NAME.fullmatch(node.id))
    elif isinstance(node, ast.Call):
        fine = isinstance(node.func, ast.Name) and node.func.id in _FUNCTIONS and not node.keywords and bool(node.args)
    elif isinstance(node, ast.BinOp):
        fine = isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow)
    else:
        fine = isinstance(node, ast.UnaryOp | ast.UAdd | ast.USub | ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow | ast.Load)
    if not fine:
        raise BadSyntax(f"“{text}” is more than a number: only + − × ÷, brackets, units and names of dimensions are understood", text)
    for child in ast.iter_child_nodes(node):
        _allow(child, text, depth + 1)


def _walk(node: ast.expr, scope: Scope, text: str) -> Any:
    try:
        if isinstance(node, ast.Constant):
            assert isinstance(node.value, int | float)
            return float(node.value)
        if isinstance(node, ast.Attribute):
            return _REGISTRY.Quantity(1.0, node.attr)
        if isinstance(node, ast.Name):
            return scope.quantity(node.id, text)
        if isinstance(node, ast.UnaryOp):
            inner = _walk(node.operand, scope, text)
            return -inner if isinstance(node.op, ast.USub) else inner
        if isinstance(node, ast.Call):
            assert isinstance(node.func, ast.Name)
            return _FUNCTIONS[node.func.id](*(_walk(a, scope, text) for a in node.args))
        assert isinstance(node, ast.BinOp)
        left, right = _walk(node.left, scope, text), _walk(node.right, scope, text)
        return _combine(node.op, left, right, text)
    except (pint.DimensionalityError, TypeError):
        raise WrongUnit(f"“{text}” mixes things of different kinds, or has a number without a unit in a sum", text) from None
    except (ZeroDivisionError, OverflowError):
        raise BadSyntax(f"“{text}” has no finite value", text) from None


def _combine(operator: ast.operator, left: Any, right: Any, text: str) -> Any:
    if isinstance(operator, ast.Add):
        return left + right
    if isinstance(operator, ast.Sub):
        return left - right
    if isinstance(operator, ast.Mult):
        return left * right
    if isinstance(operator, ast.Div):
        return left / right
    if isinstance(right, pint.Quantity) or abs(right) > 8:
        raise BadSyntax(f"“{text}” raises to a power that makes no sense here", text)
    return left**right


def _finite(number: float, text: str) -> float:
    if not math.isfinite(number) or abs(number) > 1e7:
        raise BadSyntax(f"“{text}” is out of any sensible range", text)
    return number


def _measures(quantity: Any) -> str:
    dimensions = dict(quantity.dimensionality)
    names = {(("[length]", 1.0),): "a length", (("[angle]", 1.0),): "an angle", (): "a plain number", (("[length]", 2.0),): "an area"}
    return names.get(tuple((k, float(v)) for k, v in sorted(dimensions.items())), "something else")


def _wanted(kind: Kind) -> str:
    return {Kind.LENGTH: "a length", Kind.ANGLE: "an angle", Kind.NUMBER: "a plain number"}[kind]


def _nearest(name: str, known: Mapping[str, Dimension]) -> str | None:
    from difflib import get_close_matches

    return next(iter(get_close_matches(name, list(known), n=1, cutoff=0.5)), None)
