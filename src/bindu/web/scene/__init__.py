"""Scenes, edits and values, over HTTP."""
