"""The tolerances of the model, in one place and passed explicitly."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Tolerances:
    """Lengths in mm, angles in radians, parameters relative to a domain of length 1."""

    exact: float = 1e-6
    """Below this distance a shape counts as reproduced exactly."""
    fit: float = 3e-4
    """Aim of every refit, well inside what is promised to the designer."""
    promised: float = 1e-3
    """Largest deviation from a section that is offered at all without a finding."""
    display: float = 0.05
    """Chord height of display meshes."""
    moving: float = 7e-4
    """The same while a body is being pulled about, as a share of its size: half a pixel where the whole body fills the window."""
    corner: float = 0.02
    """Tangents that turn by more than this make a corner."""
    parameter: float = 1e-9
    """Knots closer than this are one knot."""


DEFAULT = Tolerances()
