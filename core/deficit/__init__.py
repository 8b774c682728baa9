"""Water that is less than the crop could use, by plan."""
