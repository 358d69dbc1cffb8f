"""A material as one file: images and JSON in a ZIP, and as MaterialX."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import IO, Any
from xml.etree import ElementTree

from pydantic import ValidationError

from pivrel.bounded_json import JsonError, read_json
from pivrel.formats.bundle import FormatError
from pivrel.formats.laid import safe_file_name
from pivrel.formats.unzipping import unzipping
from pivrel.formats.zipping import zipped
from pivrel.materials.channels import Channel
from pivrel.materials.images import Image, green_turned
from pivrel.recipe import MaterialModel, first_error

MANIFEST = "material.json"


def image_files(name: str, images: Mapping[str, Image]) -> tuple[dict[str, str], dict[str, bytes]]:
    """The file name of each channel, and the bytes by file name."""
    stem = safe_file_name(name)
    names = {channel: f"{stem}_{channel}{image.suffix}" for channel, image in images.items()}
    return names, {names[channel]: image.data for channel, image in images.items()}


def write_material(body: Mapping[str, Any], images: Mapping[str, Image]) -> bytes:
    """A ZIP of the images and a JSON that says the rest, as a recipe says it."""
    names, files = image_files(str(body["name"]), images)
    stated = {key: body[key] for key in MaterialModel.model_fields if key in body and key != "images"}
    text = json.dumps({"material": 1, **stated, "images": names}, indent=1, ensure_ascii=False)
    return zipped({MANIFEST: text.encode(), **files})


def unzipped(file: IO[bytes], name: str) -> dict[str, bytes]:
    """The files of a ZIP by their bare names, where they can be a material's. FormatError where it is broken."""
    try:
        with unzipping(file) as archive:
            bare = {row: row.replace("\\", "/").rsplit("/", 1)[-1] for row in archive.sizes}
            return {short: bytes(archive.read(row)) for row, short in bare.items()}
    except FormatError as error:
        raise FormatError(f"{name}: {error}") from None


def read_manifest(data: bytes) -> tuple[MaterialModel, dict[Channel, str]]:
    """What the JSON of a material file says, and the file of each channel."""
    try:
        stated = read_json(data)
    except JsonError as error:
        raise FormatError(f"{MANIFEST}: {error}") from None
    if not isinstance(stated, dict) or stated.pop("material", None) != 1:
        raise FormatError(f"{MANIFEST}: this is not a material")
    try:
        model = MaterialModel.model_validate(stated)
    except ValidationError as error:
        raise FormatError(f"{MANIFEST}: {first_error(error)}") from None
    return model, dict(model.images)


def write_materialx(body: Mapping[str, Any], images: Mapping[str, Image]) -> bytes:
    """A ZIP of the images and a MaterialX 1.38 document that tiles them by their real size.

    Nodes are those of the standard library: `tiledimage` with realworldimagesize in metres against a
    tile of one metre, so texture coordinates of 1 stand for a metre; `standard_surface`.
    """
    given = dict(images)
    if body.get("normal_y") == "-" and "normal" in given:
        given["normal"] = green_turned(given["normal"])
    stem = safe_file_name(str(body["name"]))
    names, files = image_files(str(body["name"]), given)
    root = ElementTree.Element("materialx", version="1.38", colorspace="lin_rec709")
    graph = ElementTree.SubElement(root, "nodegraph", name=f"NG_{stem}")
    width, height = (side / 1000 for side in body["repeat_mm"])
    kinds: dict[str, tuple[str, str]] = {
        "base_color": ("color3", "base_color"), "roughness": ("float", "specular_roughness"),
        "metallic": ("float", "metalness"), "normal": ("vector3", "normal"),
    }  # fmt: skip
    bound = []
    for channel, (kind, slot) in kinds.items():
        if channel not in names:
            continue
        node = ElementTree.SubElement(graph, "tiledimage", name=channel, type=kind)
        space = {"colorspace": "srgb_texture"} if channel == "base_color" else {}
        _input(node, "file", "filename", names[channel], **space)
        _input(node, "realworldimagesize", "vector2", f"{width:.9g}, {height:.9g}")
        _input(node, "realworldtilesize", "vector2", "1, 1")
        out = channel
        if channel == "normal":
            out = "normal_mapped"
            mapped = ElementTree.SubElement(graph, "normalmap", name=out, type="vector3")
            ElementTree.SubElement(mapped, "input", name="in", type="vector3", nodename="normal")
        output = f"{channel}_out"
        ElementTree.SubElement(graph, "output", name=output, type=kind, nodename=out)
        bound.append((slot, kind, output))
    shader = ElementTree.SubElement(root, "standard_surface", name=f"SR_{stem}", type="surfaceshader")
    for slot, kind, output in bound:
        ElementTree.SubElement(shader, "input", name=slot, type=kind, nodegraph=f"NG_{stem}", output=output)
    if "metallic" not in names and body.get("metallic"):
        _input(shader, "metalness", "float", f"{body['metallic']:.6g}")
    surface = ElementTree.SubElement(root, "surfacematerial", name=stem, type="material")
    ElementTree.SubElement(
        surface, "input", name="surfaceshader", type="surfaceshader", nodename=f"SR_{stem}"
    )
    ElementTree.indent(root)
    text = ElementTree.tostring(root, encoding="unicode", xml_declaration=True)
    return zipped({f"{stem}.mtlx": text.encode(), **files})


def _input(node: ElementTree.Element, name: str, kind: str, value: str, **more: str) -> None:
    given = {"name": name, "type": kind, "value": value, **more}
    ElementTree.SubElement(node, "input", given)
