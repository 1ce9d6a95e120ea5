"""Which value is computed from which, and in what order."""
