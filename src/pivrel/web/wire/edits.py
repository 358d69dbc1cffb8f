"""Edits, undo and redo."""

from __future__ import annotations

from pivrel.project.edits.registry import AnyEdit
from pivrel.web.wire.base import Request, RevisionNumber


class EditRequest(Request):
    """An edit and the revision that it is based on."""

    revision: RevisionNumber
    edit: AnyEdit


class Based(Request):
    """The revision that undo or redo is based on."""

    revision: RevisionNumber
