"""Which readings may be believed: stated rules over many channels in one pass."""
