"""Runs a graph over all frames and keeps the results."""
