"""Valves opened from afar: what speaks against opening one, and what its flow tells."""
