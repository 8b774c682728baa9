"""The time a plan is made on: ten days in slots of two hours."""

# Finer slots gave no better plans in trials, and far more of them [h].
SLOT_H = 2.0
DAYS = 10
SLOTS_PER_DAY = round(24 / SLOT_H)
SLOTS = DAYS * SLOTS_PER_DAY
