"""Geometry and quality of portraits."""
