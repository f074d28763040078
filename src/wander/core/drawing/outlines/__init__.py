"""Closed outlines, however they were made: loops with corners and smooth joints, and starter shapes from a few numbers."""
