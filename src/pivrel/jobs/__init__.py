"""Long work in processes of its own: progress, cancel, a limit of memory and of time, and nothing left behind."""
