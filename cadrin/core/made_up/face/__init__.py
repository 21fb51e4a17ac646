"""Faces of people who do not exist, drawn from a seed."""
