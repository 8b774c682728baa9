"""Where a block's root zone stands: the balance and the sensors weighed against each other."""
