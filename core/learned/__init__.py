"""What a block has shown of its own limits, by evidence that can be checked by eye."""
