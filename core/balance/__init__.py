"""Daily water balance of root zones: use, stress, surplus, drainage, evaporation."""
