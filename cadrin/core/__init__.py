"""The rules of the job. Pure Python: no framework, no files, no clock, no network, no
global state.
"""
