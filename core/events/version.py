"""Which rules read an event."""

# Raised whenever the same readings give other events: those kept are read anew.
EVENTS_VERSION = "2026.12.2"
