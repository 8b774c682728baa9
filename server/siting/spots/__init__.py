"""Spots that people choose for a probe, from the plan to what became of them."""
