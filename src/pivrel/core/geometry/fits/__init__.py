"""Directions, boxes and round shapes found on a pick, so that the first try is nearly right."""
