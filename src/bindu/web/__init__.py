"""The web: validates what arrives, calls core and store, answers."""
