"""Tokens of devices: shown once, kept as a hash."""

import hashlib
import secrets

PREFIX = "efd_"


def new_token() -> str:
    """A token that can't be guessed: 256 bits."""
    return PREFIX + secrets.token_urlsafe(32)


def token_hash(token: str) -> str:
    """What is kept of a token. It is random and long, so that one round of SHA-256 serves."""
    return hashlib.sha256(token.encode()).hexdigest()
