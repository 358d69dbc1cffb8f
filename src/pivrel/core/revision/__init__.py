"""A newer model beside the one before: which face is which, and picks carried over."""

from pivrel.core.revision.carrying import carried
from pivrel.core.revision.faces import SAME_MM, SURE, Match
from pivrel.core.revision.matching import match
from pivrel.core.revision.whole import Motion

__all__ = ["SAME_MM", "SURE", "Match", "Motion", "carried", "match"]
