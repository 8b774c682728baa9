"""Rice on ponded ground: what stands in a field, what it loses, how low it may fall."""
