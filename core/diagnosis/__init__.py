"""What is wrong with a block's water or its instruments, told from what they read."""
