"""How much water and for how long, with the equipment of the block."""
