"""Edits of a project: one module an edit, with its model, what it does, and the words that undo shows."""
