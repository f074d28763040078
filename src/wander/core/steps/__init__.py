"""The kinds of step: one package for each, with its parameters, its build, and the KIND that says how they hang together."""

from wander.core.steps.registry import Registry, found_in

REGISTRY: Registry = found_in(__name__, __path__)

__all__ = ["REGISTRY"]
