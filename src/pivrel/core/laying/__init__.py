"""Finishes laid: what each covers, what it leaves open, and (s', t') in mm for every corner."""

from pivrel.core.laying.cover import BARE, Layers, cover, layers, layers_of
from pivrel.core.laying.finish import AXES, Adjustment, Finish
from pivrel.core.laying.lay import hands, lay, lay_by_corner, lay_raw, strongest_axes
from pivrel.core.laying.settled import Piece, Settled
from pivrel.core.laying.settling import grounds, settle, settle_pieces, solve, with_sheets

__all__ = [
    "AXES", "BARE", "Adjustment", "Finish", "Layers", "Piece", "Settled", "cover", "grounds", "hands", "lay",
    "lay_by_corner", "lay_raw", "layers", "layers_of", "settle", "settle_pieces", "solve", "strongest_axes", "with_sheets",
]  # fmt: skip
