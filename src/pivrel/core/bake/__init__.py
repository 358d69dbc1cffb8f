"""Baking: a finish, all of its coats with it, as images on UVs in which no two places of the surface lie on each other."""
