"""Two curves, two orders."""
