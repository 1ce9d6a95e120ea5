"""Steps of zone Solved."""
