"""Whose turn comes first in the job queue."""

# What a person waits for goes before what is done by the clock, which has 0.
SOMEBODY_WAITS = 10
