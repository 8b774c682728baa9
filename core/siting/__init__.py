"""Where to put the probe: layers of a block, its zones, and ranked spots."""
