"""The answer for a block: state, when, how much, how long, how sure, and the working."""
