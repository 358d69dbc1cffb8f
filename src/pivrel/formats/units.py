"""The units that a file can be in, and the axes that can be up in it."""

from __future__ import annotations

from typing import Literal

Unit = Literal["mm", "cm", "m", "in", "ft"]
Upward = Literal["y", "z"]
"""The units that a model's numbers can be read in, and the axes that can be up."""

MM: dict[str, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
"""Millimetres a unit; inch and foot by the international yard and pound agreement of 1959."""
