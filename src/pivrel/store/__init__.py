"""One SQLite file that holds everything; plain SQL beside the functions that run it."""
