"""The job's rules: numbers in, numbers out. No files, no database, no web."""
