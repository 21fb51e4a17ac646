"""Intake: a file becomes a table, its columns are understood, its cells are read."""
