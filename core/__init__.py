"""The trade's rules and arithmetic, as pure functions.

One flow, in one direction; the folders keep its order::

    instrument -> store -> outlook -> advice
                  ^ soil, crop          ^ irrigation

Nothing here imports a web framework, reads a file other than the catalogues beside
the code, or asks the clock: every instant is an argument.

Conventions: soil depth is positive downward in mm, water depth in mm, water content
``theta`` in m3/m3, tension positive in kPa, rates in mm/day or mm/h.
"""
