"""World places written into channels: spaces, handovers, matching."""
