"""The Django side: stores, guards, and calls the core."""
