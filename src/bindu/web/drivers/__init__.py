"""Sheets of driven keys and slip, over HTTP."""
