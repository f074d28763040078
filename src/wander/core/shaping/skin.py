"""The kinds of a smooth skin, the newest first. A loft keeps the kind that it was made with, so that its shape stays as it was."""

from __future__ import annotations

from enum import Enum


class Skin(Enum):
    """How a smooth skin goes through its sections."""

    CALM = "calm"
    """Evenly curved, and where two sections ask for a bend to one side it bends to no other between them."""
    EVEN = "even"
    """Evenly curved: its bending changes as little as can be without swelling between two sections."""
    FAIR = "fair"
    """Bent least among those that don't swell between two sections, and flat at its ends."""
    BATTEN = "batten"
    """One natural cubic through all sections, which swells where they change fast."""
