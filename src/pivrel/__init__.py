"""Pivrel: tiling materials laid on models in millimetres."""

__version__ = "0.2.0"
