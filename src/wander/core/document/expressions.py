"""Numbers as designers type them: units, arithmetic, named dimensions.

`2 in + 3 mm`, `neck/2`, `1/3 in`, `max(wall, sqrt(2) * 10 mm)`. The text is parsed to a syntax tree and only a handful of node types is walked;
nothing is ever executed. Whatever is typed comes to a finite number or to an ExpressionError.
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

from wander.core.document.units import has_unit, quantity


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


UNITS = {"mm": "mm", "cm": "cm", "m": "m", "in": "inch", '"': "inch", "″": "inch", "ft": "ft", "deg": "deg", "°": "deg", "rad": "rad"}
_BASE = {Kind.LENGTH: "mm", Kind.ANGLE: "deg", Kind.NUMBER: ""}
LITERAL = r"(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_WORD = "|".join(re.escape(unit) for unit in sorted(UNITS, key=len, reverse=True))
_UNIT_OF = "_unit"
"""Stands before a unit in the tree; what is typed can't begin with it."""
_MEASURED = re.compile(
    rf"(?:(?P<whole>\d+)\s+)?(?:(?P<over>\d+)\s*/\s*)?(?P<number>{LITERAL})\s*(?P<unit>{_WORD})(?:\s*\^\s*(?P<power>\d))?(?![A-Za-z0-9_])"
)
_ODD_UNIT = re.compile(rf"(?<![A-Za-z0-9_.]){LITERAL}\s*([A-Za-z]+)(?![A-Za-z0-9_])")
_NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]{0,39}")
_SIGNS = str.maketrans({"^": "**", "×": "*", "·": "*", "÷": "/", "−": "-", "–": "-"})
CONSTANTS = {"pi": math.pi}
LONGEST = 200


def _plain(value: Any) -> float:
    """Raises TypeError for what has a unit."""
    if has_unit(value):
        return float(value.to("dimensionless").magnitude)
    return float(value)


def _in_radians(value: Any) -> float:
    """An angle; a number without a unit is degrees."""
    return math.radians(float(value.to("deg").magnitude) if has_unit(value) else float(value))


def _root(value: Any) -> Any:
    return value**0.5


_FUNCTIONS: dict[str, tuple[int | None, Any]] = {
    "min": (None, min),
    "max": (None, max),
    "abs": (1, abs),
    "sqrt": (1, _root),
    "sin": (1, lambda angle: math.sin(_in_radians(angle))),
    "cos": (1, lambda angle: math.cos(_in_radians(angle))),
    "tan": (1, lambda angle: math.tan(_in_radians(angle))),
}
"""By name: how many values each takes, None for one or more, and what it does."""


@dataclass(frozen=True)
class Dimension:
    """A named dimension as it stands in the document."""

    value: float | str
    kind: Kind


@dataclass
class Scope:
    """The named dimensions that expressions may use; values are worked out once, when first asked for.

    angles: expressions that were read as angles with it. No other number can be written as they are, but for a nought.
    """

    dimensions: Mapping[str, Dimension]
    angles: set[str] = field(default_factory=set)
    _known: dict[str, Any] = field(default_factory=dict)

    def quantity(self, name: str, text: str) -> Any:
        """The value of a dimension that stands in `text`. Raises ExpressionError."""
        if name not in self._known:
            self._work_out(name, text)
        return self._known[name]

    def _work_out(self, name: str, text: str) -> None:
        """The dimension after all that it needs. Without recursion: a table may be one long chain."""
        todo, open_now = [(name, text, False)], list[str]()
        while todo:
            here, said, ready = todo.pop()
            if here in self._known:
                continue
            if here not in self.dimensions:
                raise UnknownName(here, _nearest(here, self.dimensions), said)
            dimension = self.dimensions[here]
            if ready:
                open_now.pop()
                self._known[here] = quantity(evaluate(dimension.value, dimension.kind, self), _BASE[dimension.kind])
                continue
            if here in open_now:
                raise Circular([*open_now[open_now.index(here) :], here], said)
            open_now.append(here)
            todo.append((here, said, True))
            if isinstance(dimension.value, str):
                todo += [(used, dimension.value, False) for used in reversed(names_in(dimension.value)) if not self.constant(used)]

    def constant(self, name: str) -> bool:
        """Whether a name means a number that everybody knows: a dimension of that name goes before it."""
        return name in CONSTANTS and name not in self.dimensions


def valid_name(name: str) -> bool:
    """Whether a dimension may be called this."""
    return bool(_NAME.fullmatch(name)) and name not in UNITS and name not in _FUNCTIONS


def evaluate(value: float | str, kind: Kind, scope: Scope) -> float:
    """The number in mm, degrees or as a count. Raises ExpressionError; a plain number is taken as it is."""
    if not isinstance(value, str):
        return _finite(value, f"{value:.6g}" if isinstance(value, float) else str(value)[:20])
    result = _walk(parse(value), scope, value)
    if not has_unit(result):
        if kind is Kind.NUMBER or result == 0:
            return _finite(result, value)
        raise WrongUnit(f"“{value}” has no unit: write {result:g} {_BASE[kind]}, say", value)
    try:
        return _finite(result.to(_BASE[kind] or "dimensionless").magnitude, value)
    except TypeError:
        raise WrongUnit(f"“{value}” is {_measures(result)}, and {_wanted(kind)} is needed here", value) from None


@lru_cache(maxsize=2048)
def parse(text: str) -> ast.expr:
    """The syntax tree of a number. Raises BadSyntax on anything but arithmetic, units, names and a few functions."""
    if len(text) > LONGEST:
        raise BadSyntax(f"a number is at most {LONGEST} characters long", text[:LONGEST] + "…")
    measured = _MEASURED.sub(_with_unit, text.strip()).translate(_SIGNS)
    try:
        tree = ast.parse(measured, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        odd = next((word for word in _ODD_UNIT.findall(text) if word not in UNITS and word not in ("e", "E")), None)
        if odd is not None:
            raise BadSyntax(f"in “{text}” {odd} is no unit: lengths are in mm, cm, m, in or ft, angles in deg or rad", text) from None
        raise BadSyntax(f"“{text}” can't be read as a number", text) from None
    _allow(tree, text, 0)
    return tree


@lru_cache(maxsize=2048)
def names_in(text: str) -> tuple[str, ...]:
    """The names of dimensions that an expression uses, each once. Raises BadSyntax."""
    called = {id(node.func) for node in ast.walk(parse(text)) if isinstance(node, ast.Call)}
    found = (node.id for node in ast.walk(parse(text)) if isinstance(node, ast.Name) and id(node) not in called and node.id != _UNIT_OF)
    return tuple(dict.fromkeys(found))


def _with_unit(found: re.Match[str]) -> str:
    """A number with its unit as a product: `2 mm^2` is two square millimetres, `1/3 in` a third of an inch, `1 1/2 in` an inch and a half."""
    before = found.string[: found.start()].rstrip()[-1:]
    number, lead = found["number"], ""
    if found["over"] is not None:
        if before and (before in "*/^)" or before.isalnum() or before in '_."°'):
            # a quotient of more than two is worked through from the left, as always
            lead = f"{found['whole'] or ''} {found['over']}/"
        else:
            number = f"({found['whole'] or 0} + {found['over']}/{number})"
    elif found["whole"] is not None:
        lead = f"{found['whole']} "
    power = f"**{found['power']}" if found["power"] else ""
    return f"{lead}({number} * {_UNIT_OF}.{UNITS[found['unit']]}{power})"


def renamed(text: str, old: str, new: str) -> str:
    """The expression with one name replaced where it stands as a whole word."""
    return re.sub(rf"(?<![A-Za-z0-9_]){re.escape(old)}(?![A-Za-z0-9_])", new, text)


def _allow(node: ast.AST, text: str, depth: int) -> None:
    if depth > 40:
        raise BadSyntax(f"“{text}” is nested too deeply", text)
    if isinstance(node, ast.Constant):
        fine = isinstance(node.value, int | float) and not isinstance(node.value, bool)
    elif isinstance(node, ast.Attribute):
        if isinstance(node.value, ast.Name) and node.value.id == _UNIT_OF and node.attr in UNITS.values():
            return
        fine = False
    elif isinstance(node, ast.Name):
        fine = bool(_NAME.fullmatch(node.id))
    elif isinstance(node, ast.Call):
        takes = _FUNCTIONS.get(node.func.id, (0, None))[0] if isinstance(node.func, ast.Name) else 0
        fine = not node.keywords and (len(node.args) == takes if takes is not None else bool(node.args))
    elif isinstance(node, ast.BinOp):
        fine = isinstance(node.op, ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow)
    else:
        fine = isinstance(node, ast.UnaryOp | ast.UAdd | ast.USub | ast.Add | ast.Sub | ast.Mult | ast.Div | ast.Pow | ast.Load)
    if not fine:
        known = f"+ − × ÷ ^, brackets, units, names of dimensions, {', '.join(_FUNCTIONS)}"
        raise BadSyntax(f"“{text}” is more than a number: only {known} are understood", text)
    for child in ast.iter_child_nodes(node):
        _allow(child, text, depth + 1)


def _walk(node: ast.expr, scope: Scope, text: str) -> Any:
    """A float or a quantity of floats. Raises ExpressionError."""
    try:
        if isinstance(node, ast.Constant):
            assert isinstance(node.value, int | float)
            return float(node.value)
        if isinstance(node, ast.Attribute):
            return quantity(1.0, node.attr)
        if isinstance(node, ast.Name):
            return CONSTANTS[node.id] if scope.constant(node.id) else scope.quantity(node.id, text)
        if isinstance(node, ast.UnaryOp):
            inner = _walk(node.operand, scope, text)
            return -inner if isinstance(node.op, ast.USub) else inner
        if isinstance(node, ast.Call):
            assert isinstance(node.func, ast.Name)
            return _real(_FUNCTIONS[node.func.id][1](*(_walk(a, scope, text) for a in node.args)), text)
        assert isinstance(node, ast.BinOp)
        left, right = _walk(node.left, scope, text), _walk(node.right, scope, text)
        return _real(_combine(node.op, left, right, text), text)
    except TypeError:
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
    power = _plain(right)
    if abs(power) > 8:
        raise BadSyntax(f"“{text}” raises to a power that makes no sense here", text)
    return left**power


def _real(value: Any, text: str) -> Any:
    """The root of a negative number is none that can be drawn."""
    size = value.magnitude if has_unit(value) else value
    if isinstance(size, complex):
        raise BadSyntax(f"“{text}” takes a root of something negative", text)
    if not math.isfinite(size):
        raise BadSyntax(f"“{text}” has no finite value", text)
    return value


def _finite(number: float, text: str) -> float:
    try:
        found = float(number)
    except OverflowError:
        found = math.inf
    if not math.isfinite(found) or abs(found) > 1e7:
        raise BadSyntax(f"“{text}” is out of any sensible range", text)
    return found


def _measures(value: Any) -> str:
    dimensions = dict(value.dimensionality)
    names = {(("[length]", 1.0),): "a length", (("[angle]", 1.0),): "an angle", (): "a plain number", (("[length]", 2.0),): "an area"}
    return names.get(tuple((k, float(v)) for k, v in sorted(dimensions.items())), "something else")


def _wanted(kind: Kind) -> str:
    return {Kind.LENGTH: "a length", Kind.ANGLE: "an angle", Kind.NUMBER: "a plain number"}[kind]


def _nearest(name: str, known: Mapping[str, Dimension]) -> str | None:
    from difflib import get_close_matches

    return next(iter(get_close_matches(name, list(known), n=1, cutoff=0.5)), None)
