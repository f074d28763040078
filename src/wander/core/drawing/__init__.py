"""Drawings: what is written down (model), and its rooms, each of which knows only those before it: outlines, curves, holding, areas, edits."""
