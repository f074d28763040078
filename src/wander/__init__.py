"""Wander: freeform bodies from sections, and the going back."""

__version__ = "0.1.0"
