"""How much water a soil holds: texture, limits, retention curve, layered profile."""
