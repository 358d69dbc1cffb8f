"""Images that a model file brings: kept byte for byte where they can be read, told where they cannot."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from pivrel.core.geometry.mesh import SourceMaterial

if TYPE_CHECKING:
    # What opens images is loaded when a model brings one.
    from pivrel.materials.images import Image


@dataclass
class SourceImages:
    """The images of one model by their content hash, and sentences on those that are not there."""

    held: dict[str, Image] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    found: list[str] = field(default_factory=list)

    def take(self, data: bytes, name: str) -> str | None:
        """Keeps an image; its hash, or None where it cannot be read.

        PNG and JPEG stay as they came; other kinds become PNG, which every writer can hold.
        """
        from pivrel.materials.images import Image, ImageError, checked_image, mime_of

        try:
            checked = checked_image(data, name)
        except ImageError as error:
            self.found.append(f"{error}; it is left out")
            return None
        mime = mime_of(data)
        image = Image(data, mime) if mime else checked
        self.held[image.sha256] = image
        self.names.setdefault(image.sha256, name)
        return image.sha256

    def used_by(self, sources: Iterable[SourceMaterial]) -> dict[str, Image]:
        """The images that these materials show."""
        used = {texture.image for source in sources for _, texture in source.textures}
        return {sha256: image for sha256, image in self.held.items() if sha256 in used}

    def missing(self, name: str) -> None:
        """Notes an image that is not beside the model."""
        self.found.append(f"the image {name!r} is missing; it is left out")
