"""Water in the root zone: limits, deficit by layer, several sites as one."""
