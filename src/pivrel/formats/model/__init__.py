"""Formats of models: one module a format."""
