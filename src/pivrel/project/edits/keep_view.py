"""Keep where the eye stands under a name."""

from __future__ import annotations

import base64
import binascii
from typing import Annotated, Literal

from pydantic import Field

from pivrel.materials.images import checked_image
from pivrel.project.edits.base import AsideEdit, EditError
from pivrel.project.edits.keeping import keep
from pivrel.recipe import Number, Triple
from pivrel.recipe.values import Name
from pivrel.store import blobs
from pivrel.store.connection import Connection
from pivrel.store.documents import ClipBody, LightBody, ViewBody


class KeepView(AsideEdit):
    """Keep where the eye stands under a name. picture: a small JPEG in base64, of what it sees."""

    kind: Literal["keep_view"]
    name: Name
    position_mm: Triple
    target_mm: Triple
    up: Triple
    height_mm: Annotated[Number, Field(gt=0)] | None
    clip: ClipBody | None = None
    light: LightBody | None = None
    picture: Annotated[str, Field(max_length=200_000)] | None = None

    def carry_out(self, db: Connection, project_id: int) -> None:
        stated = self.model_dump(exclude={"kind", "picture"})
        picture = _put_picture(db, self.picture) if self.picture else None
        keep(db, project_id, "view", ViewBody(**stated, picture=picture))


def _put_picture(db: Connection, text: str) -> str:
    try:
        image = checked_image(base64.b64decode(text.encode("ascii"), validate=True), "the view's picture")
    except (binascii.Error, UnicodeEncodeError):
        raise EditError("the view's picture is not base64") from None
    return blobs.put(db, image.data)
