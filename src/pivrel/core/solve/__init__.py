"""Layings that are found by solving over a region, and what a solution holds."""
