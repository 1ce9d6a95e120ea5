"""What drives channels: sheets of driven keys, copied formulas, slip."""
