"""The files of a hand-over as one ZIP."""

from __future__ import annotations

import zipfile
from io import BytesIO

LEVEL = 3
"""Of zlib, as measured on models: a third of the time of its usual 6, for an eighth more bytes."""


def zipped(files: dict[str, bytes]) -> bytes:
    """The files as one ZIP; images are packed already, so only text is compressed."""
    out = BytesIO()
    with zipfile.ZipFile(out, "w", compresslevel=LEVEL) as archive:
        for name, data in files.items():
            packed = name.endswith((".png", ".jpg"))
            archive.writestr(name, data, zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED)
    return out.getvalue()
