"""Upkeep of what is kept about signing in."""

from procrastinate.contrib.django import app

from server.accounts.invitations import drop_old_invitations
from server.accounts.tries import drop_forgotten_tries


@app.periodic(cron="50 3 * * *")
@app.task(name="accounts.tidy", queueing_lock="accounts.tidy")
def tidy(timestamp: int) -> None:
    """Remove what says nothing any more."""
    drop_forgotten_tries()
    drop_old_invitations()
