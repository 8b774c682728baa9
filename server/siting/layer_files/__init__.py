"""Files of layers: read, looked at, stored, undone."""
