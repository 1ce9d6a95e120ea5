"""Keys and the curves through them."""
