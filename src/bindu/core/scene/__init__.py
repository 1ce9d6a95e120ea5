"""What a scene is made of: plain frozen data."""
