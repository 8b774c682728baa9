"""Full, refill and wilting of the root zone, by three schools, on every day."""
