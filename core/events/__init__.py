"""Wetting events: what came, how deep it went, what stayed and what passed the roots."""
