"""Files: Bindu's own JSON and, later, the open formats."""
