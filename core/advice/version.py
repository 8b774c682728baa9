"""The version of the rules by which advice is given, kept with every advice on record.

Raise it with every change that may make the same inputs say something else.
"""

RULES_VERSION = "2026.12.11"
