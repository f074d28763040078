"""The kinds of step. Each module registers one kind: its parameters and its build."""

from wander.core.steps import loft, picture, rail, section, station
from wander.core.steps.registry import Registry

REGISTRY = Registry([station.KIND, section.KIND, rail.KIND, picture.KIND, loft.KIND])

__all__ = ["REGISTRY"]
