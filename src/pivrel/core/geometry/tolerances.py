"""How far from true still counts as true."""

from __future__ import annotations

TOLERANCE = 0.05
"""A laying that is stretched or squeezed by no more than this share is true to scale (common practice, no source)."""
