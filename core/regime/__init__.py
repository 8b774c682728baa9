"""The rules by which blocks are watered: one interface, and what implements it."""
