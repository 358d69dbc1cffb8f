"""What an edit gave up of how finishes were set out."""

from __future__ import annotations

import numpy as np

from pivrel.core.set_out.losses import given_up
from pivrel.project.edits.setting_out import laid_on_its_faces
from pivrel.project.laid import LaidProject
from pivrel.store.documents import Contents


def given_up_by(before: LaidProject, after: LaidProject) -> list[str]:
    """What an edit gave up of how its finishes were set out, in sentences; those that were not are passed."""
    out = []
    for key in _that_may_lie_otherwise(before.contents, after.contents):
        was, now = before.finish(key), after.finish(key)
        set_out = was.adjust or was.offset_mm != (0.0, 0.0)
        if not set_out or not was.tile or was.projection.blends or now.projection.blends:
            continue
        if after.schedule.laying_key(key) == before.schedule.laying_key(key):
            continue
        if not np.array_equal(before.schedule.held(key), after.schedule.held(key)):
            continue
        # What cannot be laid says so itself.
        if before.schedule.failure(key) or after.schedule.failure(key):
            continue
        with before.computing.short:
            told = given_up(laid_on_its_faces(before, key), laid_on_its_faces(after, key))
        if told:
            out.append(f"{now.name}: {'; '.join(told)}")
    return out


def _that_may_lie_otherwise(before: Contents, after: Contents) -> list[str]:
    """The finishes of both that are another document after an edit, or whose material is; others are the very same."""
    swapped = {key for key, was in before.materials.items() if after.materials.get(key) is not was}
    now = after.finishes
    return [
        key
        for key, was in before.finishes.items()
        if key in now and (now[key] is not was or (swapped and was.body.material in swapped))
    ]
