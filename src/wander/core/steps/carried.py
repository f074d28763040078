"""What is carried along a path, as the parameters of a step have it: the path, how it is held, and where it would fold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.drawing.outlines.area import Area, middle_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.results.rails import Rail
from wander.core.shaping.attitude import Attitude, Normals
from wander.core.shaping.bays import Swept
from wander.core.shaping.folding import Fold, folds_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.path import Merged, Path, path_along, without_slight_corners
from wander.core.shaping.placing import Place, Placing, placed_on
from wander.core.shaping.rounding import rounded
from wander.core.shaping.sweep import swept
from wander.core.shaping.trajectories import Trajectories


@dataclass(frozen=True)
class Carried:
    """radius: by which corners are rounded, None where they are mitred. riding: the point (2,) of the section that lies on the path, else its middle.

    up: what is upright, else z. normals: of the surface that it is held square to. steps: corners that stand for a
    rounded one, None for an arc.
    """

    areas: Sequence[Area]
    frame: Frame
    rail: Rail
    radius: float | None
    laws: Laws
    place: Place = Place.SQUARED
    attitude: Attitude = Attitude.LEAST
    riding: Floats | None = None
    up: Floats | None = None
    normals: Normals | None = None
    steps: int | None = None

    @cached_property
    def merged(self) -> Merged | None:
        """The rail with its slightest corners taken for smooth, where it has any."""
        return without_slight_corners(self.rail.curve, DEFAULT.fit)

    @cached_property
    def path(self) -> Path:
        curve = self.rail.curve if self.merged is None else self.merged.curve
        path = path_along(curve, closed=self.rail.closed, spans=self.rail.spans)
        return rounded(path, self.radius, self.steps) if self.radius is not None and path.corners else path

    @property
    def middle(self) -> Floats:
        """The middle of all areas in their plane, (2,)."""
        return middle_of(self.areas)

    @property
    def rides(self) -> Floats:
        return self.middle if self.riding is None else self.riding

    @cached_property
    def placing(self) -> Placing:
        near = self.frame.lift(self.middle[None])[0]
        up = np.array([0.0, 0.0, 1.0]) if self.up is None else self.up
        return placed_on(self.path, self.frame, self.rides, place=self.place, attitude=self.attitude, up=up, near=near, normals=self.normals)

    @property
    def outline(self) -> Floats:
        """Points of all areas in their plane, (n, 2)."""
        return np.concatenate([area.outer.curve.sampled(4)[1] for area in self.areas])

    @cached_property
    def folds(self) -> list[Fold]:
        """Where the section reaches further than the path bends. Raises GeometryError where there is no path."""
        trajectories = [Trajectories(self.path, number, frames, self.laws) for number, frames in enumerate(self.placing.held.frames)]
        return folds_along(trajectories, self.placing.local(self.outline), self.placing.forwards, square=self.placing.held.square)

    def skins(self, name: str, section: str, tolerances: Tolerances) -> Swept:
        """Raises GeometryError."""
        return swept(self.areas, self.path, self.placing, laws=self.laws, name=name, section=section, tolerances=tolerances)

    @property
    def fits(self) -> bool:
        """Whether it runs along its path without a fold and past every corner."""
        try:
            if self.folds:
                return False
            self.skins("tried", "section-0", DEFAULT)
        except GeometryError:
            return False
        return True

    @property
    def axis(self) -> Floats:
        """From the start of the path to its end; across a closed one."""
        chord = self.path.pieces[-1](1.0) - self.path.pieces[0](0.0)
        reach = float(np.linalg.norm(chord))
        if reach > 1e-6 * self.path.length:
            return np.asarray(chord / reach, dtype=np.float64)
        return np.eye(3)[int(np.ptp(self.rail.curve.points, axis=0).argmax())]
