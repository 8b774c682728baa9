"""A small simulated outside world for the demo: weather, soil columns, instruments.

Deterministic for a seed. It is not the model that the advice uses: the column is solved in
50 mm nodes on 15-minute steps, with drainage that takes time and roots that drink by day.
"""
