"""Figures as people say them."""

from __future__ import annotations


def counted(count: int, one: str) -> str:
    """A number of things: "1 face", "12 faces"."""
    return f"1 {one}" if count == 1 else f"{count:,} {one}s"


def percent(share: float) -> str:
    """A share: whole per cent, and below ten a tenth of one."""
    # Held together, so that a line does not end before the sign.
    return f"{share * 100:.0f}\u00a0%" if share >= 0.095 else f"{share * 100:.1f}\u00a0%"


def metres(length: float) -> str:
    """A length given in m: tenths of a metre, and below one of those millimetres."""
    return f"{length:.1f} m" if length >= 0.1 else f"{length * 1000:.0f} mm"


def area(mm2: float) -> str:
    """An area given in mm²: in m², and below a tenth of one in cm²."""
    return f"{mm2 / 1e6:.2f} m²" if mm2 >= 1e5 else f"{mm2 / 100:.1f} cm²"
