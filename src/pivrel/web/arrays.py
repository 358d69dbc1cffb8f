"""The arrays that a view draws, by their address under the project's: sent alone, or with what they belong to."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from flask import Response, request

from pivrel.core.schedule import Schedule
from pivrel.web.packet import BYTES, packet_bytes
from pivrel.web.wire.laying import CoverHeader

MOST_BYTES = 128 << 20
"""More than this is not sent unasked."""


def cover_bytes(schedule: Schedule) -> bytes:
    """Which row of the schedule each face takes, as `routes.geometry.cover` answers it."""
    covering = schedule.covering()
    singles = list(covering.layers.singles)
    over = {f"over_{row}": covering.drawn[row].astype("<u4") for row in singles}
    return packet_bytes(CoverHeader(singles=singles), base=covering.layers.base.astype("<i2"), **over)


def laying_array(schedule: Schedule, key: str) -> np.ndarray:
    """(K, 2) float32 mm for the corners of the faces that a finish is laid on, in face order, as bytes where they lie."""
    return schedule.laying(key).astype("<f4", copy=False).reshape(-1).view(np.uint8)


def cover_path(schedule: Schedule) -> str:
    """The address of what lies on each face."""
    return f"cover?key={schedule.cover_key}"


def laying_path(schedule: Schedule, key: str) -> str:
    """The address of a finish's laying."""
    return f"laying/{key}?key={schedule.laying_key(key)}"


def as_bytes(data: bytes, key: str) -> Response:
    """Arrays as they are; key: of their content, so that a browser that has them already need not get them again."""
    response = Response(data, mimetype=BYTES)
    response.set_etag(key)
    response.make_conditional(request)
    return response


def arrays_between(was: Schedule, now: Schedule, rows: Sequence[str]) -> dict[str, np.ndarray]:
    """What a view that shows one state needs to show another, by address; what would be too much is left out.

    rows: the finishes that may lie otherwise.
    Where the sheet of a finish as a whole was turned, moved or scaled the view does it by itself.
    """
    out: dict[str, np.ndarray] = {}
    if now.cover_key != was.cover_key:
        out[cover_path(now)] = np.frombuffer(cover_bytes(now), np.uint8)
    size = 0
    for key in rows:
        if len(now.drawn(key)) and (key not in was.finishes or sheet_key(was, key) != sheet_key(now, key)):
            data = laying_array(now, key)
            size += data.nbytes
            if size > MOST_BYTES:
                break
            out[laying_path(now, key)] = data
    return out


def sheet_key(schedule: Schedule, key: str) -> str:
    """Changes where a view has to ask for the corners of a finish anew."""
    return schedule.raw_key(key) or schedule.laying_key(key)
