"""The images that a recipe names."""

from __future__ import annotations

from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.laid import Look, upright_normal
from pivrel.materials.checker import checker_for
from pivrel.materials.images import checked_image
from pivrel.recipe import MaterialModel


def look_of(files: Bundle, material: MaterialModel) -> Look:
    """How a recipe's material looks, its images among the files; a checker where it names none.

    FormatError where one is missing, ImageError where it cannot be read.
    """
    images = {}
    for channel, name in material.images.items():
        data = files.read(name)
        if data is None:
            raise FormatError(f"the image {name!r} of material {material.name!r} is missing")
        images[str(channel)] = checked_image(data, name)
    images = upright_normal(images, material.normal_y)
    return Look(images or {"base_color": checker_for(material.repeat_mm)}, material.metallic)
