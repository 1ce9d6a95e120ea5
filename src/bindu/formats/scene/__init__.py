"""Bindu's own scene files."""
