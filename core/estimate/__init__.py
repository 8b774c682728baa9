"""What is not known of a block, carried by an ensemble and narrowed by what the field shows."""
