"""Steps of the zone Keyed."""
