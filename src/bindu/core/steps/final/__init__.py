"""Steps of the zone Final."""
