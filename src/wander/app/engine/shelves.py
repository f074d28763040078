"""The two shelves of a server: meshes for the browser, and results that all workers and the command line share."""

from __future__ import annotations

from pathlib import Path

from wander.core.design.shelf import Shelf


def mesh_shelf(cache: Path, megabytes: int) -> Shelf:
    return Shelf(cache / "meshes", "glb", megabytes * 2**20)


def result_shelf(cache: Path, megabytes: int) -> Shelf:
    return Shelf(cache / "results", "built", megabytes * 2**20)
