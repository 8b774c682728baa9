"""What is wrong with blocks and instruments: found in readings, kept, decided by people."""
