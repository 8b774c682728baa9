"""Wetting events of blocks: found in readings, kept, and shown."""
