"""Valves opened from afar, by a person, through a controller in the field."""
