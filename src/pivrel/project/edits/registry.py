"""Every edit there is. A new one is a module and a line here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from pivrel.project.edits.accept import Accept
from pivrel.project.edits.add_coat import AddCoat
from pivrel.project.edits.add_mask import AddMask
from pivrel.project.edits.answer import Answer
from pivrel.project.edits.arrange_pieces import ArrangePieces
from pivrel.project.edits.avoid import Avoid
from pivrel.project.edits.balance import Balance
from pivrel.project.edits.carry_through import CarryThrough
from pivrel.project.edits.change_material import ChangeMaterial
from pivrel.project.edits.cut_edge import CutEdge
from pivrel.project.edits.drape_between import DrapeBetween
from pivrel.project.edits.drop_adjustment import DropAdjustment
from pivrel.project.edits.duplicate import Duplicate
from pivrel.project.edits.fit_datum import FitDatum
from pivrel.project.edits.flip import Flip
from pivrel.project.edits.follow_edge import FollowEdge
from pivrel.project.edits.follow_grain import FollowGrain
from pivrel.project.edits.forget import Forget
from pivrel.project.edits.grain_to import GrainTo
from pivrel.project.edits.keep_cuts import KeepCuts
from pivrel.project.edits.keep_pick import KeepPick
from pivrel.project.edits.keep_view import KeepView
from pivrel.project.edits.lay import Lay
from pivrel.project.edits.lay_edge import LayEdge
from pivrel.project.edits.lay_picture import LayPicture
from pivrel.project.edits.line_along import LineAlong
from pivrel.project.edits.move import Move
from pivrel.project.edits.move_pieces import MovePieces
from pivrel.project.edits.offset import Offset
from pivrel.project.edits.place_like import PlaceLike
from pivrel.project.edits.place_model import PlaceModel
from pivrel.project.edits.place_sheet import PlaceSheet
from pivrel.project.edits.remove import Remove
from pivrel.project.edits.rename import Rename
from pivrel.project.edits.repeat import Repeat
from pivrel.project.edits.run_across import RunAcross
from pivrel.project.edits.run_on import RunOn
from pivrel.project.edits.scale import Scale
from pivrel.project.edits.set_cells import SetCells
from pivrel.project.edits.set_coat_options import SetCoatOptions
from pivrel.project.edits.set_coats import SetCoats
from pivrel.project.edits.set_datum import SetDatum
from pivrel.project.edits.set_datum_for import SetDatumFor
from pivrel.project.edits.set_material import SetMaterial
from pivrel.project.edits.set_options import SetOptions
from pivrel.project.edits.set_out import SetOut
from pivrel.project.edits.set_pick import SetPick
from pivrel.project.edits.set_projection import SetProjection
from pivrel.project.edits.set_spread import SetSpread
from pivrel.project.edits.set_ties import SetTies
from pivrel.project.edits.set_tone import SetTone
from pivrel.project.edits.set_toned import SetToned
from pivrel.project.edits.split import Split
from pivrel.project.edits.straighten import Straighten
from pivrel.project.edits.swap_material import SwapMaterial
from pivrel.project.edits.switch import Switch
from pivrel.project.edits.take_back import TakeBack
from pivrel.project.edits.take_source import TakeSource
from pivrel.project.edits.tile import Tile
from pivrel.project.edits.turn_by import TurnBy
from pivrel.project.edits.turn_datum import TurnDatum
from pivrel.project.edits.turn_pick import TurnPick
from pivrel.project.edits.turn_seam import TurnSeam
from pivrel.project.edits.turn_to import TurnTo
from pivrel.project.edits.vary import Vary

ResultEdit = (
    Accept
    | AddCoat
    | AddMask
    | Answer
    | ArrangePieces
    | Avoid
    | Balance
    | CarryThrough
    | ChangeMaterial
    | CutEdge
    | DrapeBetween
    | DropAdjustment
    | Duplicate
    | FitDatum
    | Flip
    | FollowEdge
    | FollowGrain
    | GrainTo
    | KeepCuts
    | Lay
    | LayEdge
    | LayPicture
    | LineAlong
    | Move
    | MovePieces
    | Offset
    | PlaceLike
    | PlaceModel
    | PlaceSheet
    | Remove
    | Rename
    | Repeat
    | RunAcross
    | RunOn
    | Scale
    | SetCells
    | SetCoatOptions
    | SetCoats
    | SetDatum
    | SetDatumFor
    | SetMaterial
    | SetOptions
    | SetOut
    | SetPick
    | SetProjection
    | SetSpread
    | SetTies
    | SetTone
    | SetToned
    | Split
    | Straighten
    | SwapMaterial
    | Switch
    | TakeSource
    | Tile
    | TurnBy
    | TurnDatum
    | TurnPick
    | TurnSeam
    | TurnTo
    | Vary
)
"""Edits of the result: undo takes them back."""

KeptAside = Forget | KeepPick | KeepView | TakeBack
"""Changes of views and picks that are kept by a name: undo leaves them alone."""

AnyEdit = Annotated[ResultEdit | KeptAside, Field(discriminator="kind")]
