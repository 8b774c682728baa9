"""Where a farm's water comes from and what its blocks share."""
