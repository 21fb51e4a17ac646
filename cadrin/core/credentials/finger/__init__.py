"""Fingerprints: from a picture to minutiae, how good it is, and whether two are of one finger."""
