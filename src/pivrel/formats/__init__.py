"""Files in and out: one registry, one module a format, each to and from the core's mesh and laying."""
