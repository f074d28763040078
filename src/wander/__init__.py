"""Wander: freeform bodies from sections, and the going back."""
