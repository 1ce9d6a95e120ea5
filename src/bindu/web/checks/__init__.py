"""Checks, findings and remedies, over HTTP."""
