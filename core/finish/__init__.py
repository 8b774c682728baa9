"""How a season ends: what a crop still needs until it is ripe, and its last irrigations."""
