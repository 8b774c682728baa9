"""Sharing water: which block runs when, with the sources, mains, machines and people there are."""
