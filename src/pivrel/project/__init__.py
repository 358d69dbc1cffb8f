"""What an artist does to a project: its schedule laid, edits, a newer model, pictures, housekeeping."""
