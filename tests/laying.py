"""Finishes laid without a project, and what is handed over of them."""

from __future__ import annotations

from pivrel.core.cache import KeepAll
from pivrel.core.schedule import Schedule
from pivrel.formats.laid import lay_model
from pivrel.formats.registry import writable


def schedule_of(surface, finishes):
    """The finishes in their order, by their rows."""
    return Schedule(surface, "mesh", {str(row): finish for row, finish in enumerate(finishes)}, KeepAll())


def laid_model(surface, finishes, looks, images=None, image_names=None):
    """A surface with its finishes laid, as it can be written."""
    return lay_model(schedule_of(surface, finishes), looks, images, image_names)


def handed_over(model, suffix, stem, convention):
    """The files of a hand-over by name."""
    return writable(suffix).write(model, stem, convention)
