"""Faces: the geometry of portraits."""
