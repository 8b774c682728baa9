"""How passwords are hashed: Argon2id, with the memory that a web process can spare.

Figures are among those that OWASP's Password Storage Cheat Sheet names as equally strong for
Argon2id (from memory). Django's own take 100 MB and eight threads for each sign-in: a few at once
would fill a small machine.
"""

from django.contrib.auth.hashers import Argon2PasswordHasher


class Argon2(Argon2PasswordHasher):
    """19 MiB, two passes, one thread; what was hashed otherwise is hashed anew at a sign-in."""

    time_cost = 2
    memory_cost = 19 * 1024  # KiB
    parallelism = 1
