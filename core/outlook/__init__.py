"""The days ahead: deficit against refill under a stated ET."""
