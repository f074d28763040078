"""Rows about how fair a skin is: how far it swells, how its curvature changes, how often its side; beside a batten and the kernel's loft."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import combinations, pairwise

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.TopAbs import TopAbs_FACE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS
from scipy.interpolate import CubicSpline

from bench.geometry import kernel_loft, kernel_wires
from bench.table import Row
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.shaping.loft import loft
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin

RADII: list[tuple[list[float], list[float]]] = [
    ([0, 20, 21, 24, 25, 45], [10, 10, 30, 30, 10, 10]),
    ([0, 40, 43, 80], [14, 14, 35, 35]),
    ([0, 14, 78, 132, 172, 200], [31, 36, 38, 33, 17.5, 17]),
    ([0, 30, 30.05, 60], [20, 30, 30.2, 22]),
    ([0, 30, 40, 45], [10, 12, 20, 60]),
    ([0, 30, 60, 90, 120], [10, 30, 20, 25, 10]),
    ([0, 0.4, 0.9, 1.4, 2], [0.5, 0.9, 0.95, 0.6, 0.55]),
    ([0, 150, 400, 650, 900, 1200], [240, 400, 500, 480, 300, 120]),
    ([0, 10, 30, 55, 60, 90, 120, 130], [12, 20, 18, 30, 31, 15, 14, 22]),
    ([0, 25, 50], [30, 40, 30]),
]
"""Places along a straight body and radii there: collars, steps, flares, a pair side by side, sizes from one to a thousand."""
LOOKED = 1600
EVENLY, SMOOTHED = 1201, 8
DIRECTIONS = 36
GENTLE = 40
"""Rows on smooth lines, their stations at random, that are looked at where the kernel's loft keeps the bounds."""
BOUND = 0.0101
SEEN = 2e-3
"""A wave that moves the line by less than this share of the largest step is not seen."""

Line = tuple[Floats, Floats]
"""Places along a body and radii there."""


def placed(row: tuple[list[float], list[float]]) -> list[PlacedSection]:
    return [PlacedSection(BASE_FRAMES["top"].moved(z), shapes.circle(2 * r)) for z, r in zip(*row, strict=True)]


def own_line(skin: Skin) -> Callable[[list[PlacedSection]], Line]:
    def line(sections: list[PlacedSection]) -> Line:
        surface = loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-1", skin=skin).shell.faces[0].surface
        breaks = surface.v.breaks
        v = np.unique(np.concatenate([np.linspace(a, b, LOOKED // 4) for a, b in pairwise(breaks)]))
        points = surface.grid(np.zeros(1), v)[0]
        return points[:, 2], np.linalg.norm(points[:, :2], axis=1)

    return line


def kernel_line(sections: list[PlacedSection]) -> Line:
    explorer = TopExp_Explorer(kernel_loft(kernel_wires(sections)), TopAbs_FACE)
    best: Line = (np.zeros(0), np.zeros(0))
    while explorer.More():
        surface = BRep_Tool.Surface_s(TopoDS.Face(explorer.Current()))
        u, _, low, high = surface.Bounds()
        if np.isfinite([u, low, high]).all() and abs(high) < 1e50:
            points = np.array([surface.Value(u, v).Coord() for v in np.linspace(low, high, 8 * LOOKED)])
            if np.ptp(points[:, 2]) > (np.ptp(best[0]) if len(best[0]) else 0.0):
                best = points[:, 2], np.linalg.norm(points[:, :2], axis=1)
        explorer.Next()
    return best


def swelling(row: tuple[list[float], list[float]], line: Line) -> float:
    """How far a line leaves the range of the two stations of a bay, as a share of the larger step beside it; without end where it runs back."""
    (at, radii), (z, r) = (np.array(row[0]), np.array(row[1])), line
    if np.diff(z).min() < -1e-9 * np.ptp(at):
        return float("inf")
    steps = np.pad(np.abs(np.diff(radii)), 1)
    worst = 0.0
    for i in range(len(at) - 1):
        inside = r[(z >= at[i]) & (z <= at[i + 1])]
        if len(inside):
            worst = max(worst, max(inside.max() - radii[i : i + 2].max(), radii[i : i + 2].min() - inside.min()) / max(steps[i : i + 3]))
    return float(worst)


def waves(row: tuple[list[float], list[float]], line: Line) -> int:
    """How often the curvature of a line changes sides, beyond what the stations ask for."""
    z, r = line
    slope = np.diff(r) / np.maximum(np.diff(z), 1e-12)
    turn = np.diff(slope)
    bounds = [0, *(np.flatnonzero(np.diff(np.sign(turn))) + 1), len(turn)]
    seen = []
    for low, high in pairwise(bounds):
        lift = abs(float(turn[low:high].sum())) * (z[min(high + 1, len(z) - 1)] - z[low]) / 8
        if lift > SEEN * np.abs(np.diff(row[1])).max():
            seen.append(np.sign(turn[low:high].sum()))
    asked = np.sign(np.diff(np.diff(row[1]) / np.diff(row[0])))
    asked = asked[asked != 0]
    return int((np.diff(seen) != 0).sum()) - int((np.diff(asked) != 0).sum())


def variation(line: Line) -> float:
    """How much the curvature of a line that runs forward changes from end to end, 1/mm, by places at even lengths along it.

    Both lines are seen at the same places: what is joined by chords changes the more, the fewer there are.
    """
    z, r = line
    apart = np.append(True, np.diff(z) > 1e-6 * (z[-1] - z[0]))
    close = np.linspace(z[0], z[-1], 4 * EVENLY)
    z, r = close, CubicSpline(z[apart], r[apart])(close)
    length = np.append(0.0, np.cumsum(np.hypot(np.diff(z), np.diff(r))))
    at = np.linspace(0.0, length[-1], EVENLY)
    z, r = np.interp(at, length, z), np.interp(at, length, r)
    bend = np.gradient(np.unwrap(np.arctan2(np.gradient(r, at), np.gradient(z, at))), at)
    smooth = np.convolve(bend, np.ones(SMOOTHED) / SMOOTHED, "valid")  # places are joined by chords
    return float(np.abs(np.diff(smooth)).sum())


SHAPES: dict[str, Loop] = {
    "circle": shapes.circle(40.0),
    "ellipse": shapes.ellipse(60.0, 24.0),
    "rectangle": shapes.rectangle(50.0, 30.0),
    "rounded": shapes.rounded_rectangle(50.0, 30.0, 8.0),
    "slot": shapes.slot(70.0, 20.0),
    "triangle": shapes.polygon(3, 40.0),
    "hexagon": shapes.polygon(6, 40.0),
    "foil": shapes.foil(80.0, 0.2, 0.04, 0.4),
    "star": shapes.spline(
        np.array([[(24 if k % 2 else 15) * np.cos(np.pi * k / 5), (24 if k % 2 else 15) * np.sin(np.pi * k / 5)] for k in range(10)])
    ),
}
PAIRS = list(combinations(SHAPES, 2))[:30]


def pair_swelling(first: str, second: str, skin: Skin) -> float:
    """How far lines of the skin through a shape twice and another twice leave the range of their places on the two sections of a bay.

    Seen about the middle in even directions, as a share of the largest step.
    """
    sections = [PlacedSection(BASE_FRAMES["top"].moved(z), SHAPES[name]) for z, name in ((0, first), (40, first), (52, second), (92, second))]
    lofted = loft(sections, [f"section-{i}" for i in range(4)], name="loft-1", skin=skin)
    places = np.unique(np.concatenate([np.linspace(a, b, LOOKED // 8) for a, b in pairwise(lofted.plain.places)]))
    u = np.linspace(0.0, 1.0, 65)
    skins = [face.surface.grid(u, places) for face in lofted.shell.faces]
    if min(np.diff(own[..., 2], axis=1).min() for own in skins) < -1e-9:
        return float("inf")
    turn = np.pi * np.arange(DIRECTIONS) / DIRECTIONS
    around = np.concatenate(skins)[..., :2].transpose(1, 0, 2)
    reach = (around - around.mean(axis=1, keepdims=True)) @ np.stack([np.cos(turn), np.sin(turn)])
    at = np.searchsorted(places, lofted.plain.places - 1e-12)
    step = float(np.abs(reach[at[1]] - reach[at[2]]).max())
    worst = 0.0
    for low, high in pairwise(at):
        ends, inside = reach[[low, high]], reach[low : high + 1]
        worst = max(worst, float((inside - ends.max(axis=0)).max()), float((ends.min(axis=0) - inside).max()))
    return worst / step


def rows() -> Iterator[Row]:
    found = {name: [(row, line(placed(row))) for row in RADII] for name, line in WAYS.items()}
    swells = {name: max(swelling(row, line) for row, line in lines) for name, lines in found.items()}
    beyond = {name: sum(max(waves(row, line), 0) for row, line in lines) for name, lines in found.items()}
    told = ", ".join(f"{name} {swells[name]:.3g}" for name in ("even", "fair", "batten", "kernel"))
    yield Row(f"a calm skin's swelling, {len(RADII)} rows, worst share of the step", swells["calm"], BOUND, "", told)
    told = ", ".join(f"{name} {beyond[name]}" for name in ("even", "fair", "batten", "kernel"))
    yield Row("waves of it that the stations don't ask for, all rows", beyond["calm"], 0, "", told)
    fit = [(own[1], other[1]) for own, other in zip(found["calm"], found["kernel"], strict=True) if swelling(*other) <= BOUND]
    changes = max((variation(own) / variation(other) for own, other in fit), default=0.0)
    yield Row("change of its curvature against the kernel's, where that keeps the bounds", changes, 1.005, "×", f"{len(fit)} of {len(RADII)} rows")
    yield _gentle()
    pairs = {skin: [pair_swelling(*pair, skin) for pair in PAIRS] for skin in Skin}
    told = f"batten {max(pairs[Skin.BATTEN]):.3g}; {sum(share > BOUND for share in pairs[Skin.CALM])} beyond {BOUND}"
    yield Row(f"a calm skin's swelling, {len(PAIRS)} pairs of shapes, worst share of the step", max(pairs[Skin.CALM]), BOUND, "", told)


def _gentle() -> Row:
    """Most lines that people draw: rows that a smooth line goes through, so that the kernel's loft keeps the bounds too."""
    chance = np.random.default_rng(9)
    own: list[float] = []
    least: list[float] = []
    while len(own) < GENTLE:
        at = np.append(0.0, np.cumsum(chance.uniform(8, 80, chance.integers(2, 6))))
        u, (tilt, bow, wave) = at / at[-1], chance.normal(size=3)
        radii = 40 + 10 * tilt * (u - 0.5) + 32 * bow * (u - 0.5) ** 2 + 6 * wave * np.sin(3 * u)
        row = (at.tolist(), radii.tolist())
        kernel = kernel_line(placed(row))
        if swelling(row, kernel) <= BOUND:
            own.append(variation(WAYS["calm"](placed(row))) / variation(kernel))
            least.append(variation(WAYS["fair"](placed(row))) / variation(kernel))
    told = f"worst {max(own):.2f}; what is bent least {np.median(least):.2f}, worst {max(least):.0f}"
    return Row(f"the same on {GENTLE} rows on smooth lines, half of them under", float(np.median(own)), 1, "×", told)


WAYS = {"calm": own_line(Skin.CALM), "even": own_line(Skin.EVEN), "fair": own_line(Skin.FAIR), "batten": own_line(Skin.BATTEN), "kernel": kernel_line}
