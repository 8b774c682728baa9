"""Leaf water potential: bands, rounds of readings, and what the soil says of it."""
