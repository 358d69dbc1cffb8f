"""Reading a model in a process of its own: with progress, stoppable, and safe from broken files."""
