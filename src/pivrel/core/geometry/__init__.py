"""Polygon meshes, their topology, and the frames that are measured in."""
