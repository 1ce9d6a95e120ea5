"""Steps of the zone Driven."""
