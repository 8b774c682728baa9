"""What runs when: the run sheet, from the plan to what people are told."""
