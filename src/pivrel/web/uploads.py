"""Uploaded files, and files for the browser to keep."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path, PurePosixPath
from typing import IO

from flask import Response, request
from werkzeug.datastructures import FileStorage
from werkzeug.wsgi import FileWrapper

from pivrel.core.plain_text import printable
from pivrel.formats.bundle import FormatError
from pivrel.web.packet import STEP

MAX_NAME = 255
"""Bytes of a file's name on the common file systems."""


def uploaded_files() -> dict[str, IO[bytes]]:
    """The uploaded files by their bare names, on the disk where large. FormatError for a name that no file can have."""
    files: list[FileStorage] = request.files.getlist("files")
    out: dict[str, IO[bytes]] = {}
    for file in files:
        name = bare_name(file.filename or "")
        if name in out:
            raise FormatError(f"two of the files are called {name!r}; give one of them another name")
        out[name] = file.stream
    return out


def uploaded() -> dict[str, bytes]:
    """The bytes of the uploaded files by their bare names, as `uploaded_files` has them."""
    return {name: file.read() for name, file in uploaded_files().items()}


def bare_name(path: str) -> str:
    """The name of a file without its folders. FormatError where there is none, or one that no disk keeps."""
    name = PurePosixPath(path.replace("\\", "/")).name
    try:
        size = len(name.encode())
    except UnicodeEncodeError:
        raise FormatError("the name of a file holds signs that are no text; give it another") from None
    if not name.strip(". ") or printable(name) != name:
        raise FormatError(f"a file has no name that can be used ({path[:80]!r}); give it one")
    if size > MAX_NAME:
        raise FormatError(
            f"the name {name[:60]!r}… is longer than {MAX_NAME} bytes; give the file a shorter one"
        )
    return name


def download_file(name: str, path: Path, mime: str) -> Response:
    """A file on the disk for the browser to keep; sent from there, step by step."""
    response = download(name, FileWrapper(path.open("rb"), STEP), mime)
    response.content_length = path.stat().st_size
    return response


def download(name: str, data: bytes | Iterable[bytes], mime: str) -> Response:
    """A file for the browser to keep."""
    response = Response(data, mimetype=mime)
    response.headers.set("Content-Disposition", "attachment", filename=name)
    return response
