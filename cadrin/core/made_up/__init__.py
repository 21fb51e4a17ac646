"""Fingers and faces of nobody, drawn from seeds: for the demo, the stand-ins and measurements."""
