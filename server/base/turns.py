"""Whose turn comes first in the job queue, and that nobody stands in it twice."""

from django.db import transaction
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.jobs import JobDeferrer

# What a person waits for goes before what is done by the clock, which has 0.
SOMEBODY_WAITS = 10


def queue_once(job: JobDeferrer, **arguments: int) -> None:
    """Queue a job, when what is under way is committed.

    Where one of its queueing lock waits already nothing is done: that one looks at the state when
    its turn comes.
    """
    try:
        with transaction.atomic():
            job.defer(**arguments)
    except AlreadyEnqueued:
        pass
