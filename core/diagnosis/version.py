"""Which rules diagnoses are made by; raised whenever they find something else."""

DIAGNOSIS_VERSION = "3"
