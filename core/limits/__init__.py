"""Full, refill and wilting of the root zone, by three methods, on every day."""
