"""Masks: where a coat lies, as a number from 0 to 1 at every point. A kind is a module."""
