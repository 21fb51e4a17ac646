"""Cardholders' details, names, contacts, custom fields, duplicates, departments."""
