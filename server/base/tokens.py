"""Secrets that open something by themselves: shown once, kept as a hash."""

import hashlib
import secrets


def new_token(prefix: str = "") -> str:
    """A token that can't be guessed: 256 bits, after a prefix that tells what it opens."""
    return prefix + secrets.token_urlsafe(32)


def token_hash(token: str) -> str:
    """What is kept of a token. It is random and long, so that one round of SHA-256 serves."""
    return hashlib.sha256(token.encode("utf-8", "replace")).hexdigest()
