"""Licence plates, read by a camera at a gate."""
