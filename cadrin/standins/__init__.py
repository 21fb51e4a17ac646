"""Simulated controllers and readers that ship with Cadrin: a process of their own, reached only
over HTTP.
"""
