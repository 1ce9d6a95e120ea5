"""Wiring, order, loops and what-ifs, over HTTP."""
