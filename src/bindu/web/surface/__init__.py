"""Surfaces, their points and their orders, over HTTP."""
