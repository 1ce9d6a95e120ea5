"""Bakes, files on their way out and in, over HTTP."""
