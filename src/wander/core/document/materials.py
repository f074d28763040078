"""Materials that bodies are made of, with their usual densities, g/cm3 (handbook values for the plain grade)."""

from __future__ import annotations

from wander.core.document.fields import Model


class Material(Model):
    """colour: in which a body of it is shown until another is chosen."""

    name: str
    density: float
    colour: str


MATERIALS = (
    Material(name="polypropylene", density=0.905, colour="#d8dcd6"),
    Material(name="polyethylene", density=0.95, colour="#dfe3dc"),
    Material(name="ABS", density=1.05, colour="#cfc9ba"),
    Material(name="PET", density=1.38, colour="#c3d3d6"),
    Material(name="nylon", density=1.14, colour="#d9d3c2"),
    Material(name="silicone rubber", density=1.15, colour="#b7a99a"),
    Material(name="closed-cell foam", density=0.1, colour="#8b9296"),
    Material(name="ash wood", density=0.68, colour="#d6b98a"),
    Material(name="spruce", density=0.45, colour="#e0c79a"),
    Material(name="glass laminate", density=1.85, colour="#b9c7b2"),
    Material(name="carbon laminate", density=1.55, colour="#4a5054"),
    Material(name="aluminium", density=2.7, colour="#bcc2c6"),
    Material(name="stainless steel", density=7.9, colour="#a9b0b4"),
    Material(name="brass", density=8.5, colour="#c2a25a"),
    Material(name="glass", density=2.5, colour="#bcd2cd"),
)
