"""Weather: reference ET from what a station measured, effective rain, atmometers."""
