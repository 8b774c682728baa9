"""Jobs whose worker died are taken up again; those that failed are let go after a month."""

from django.conf import settings
from procrastinate import JobContext
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued, UniqueViolation
from procrastinate.jobs import Status

FAILED_KEPT_HOURS = 30 * 24


@app.periodic(cron="* * * * * */10")
@app.task(name="jobs.retry_stalled", queueing_lock="jobs.retry_stalled", pass_context=True)
async def retry_stalled(context: JobContext, timestamp: int) -> None:
    """Queue again what a worker without a heartbeat left half done; every step can be repeated."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=settings.WORKER_SILENT_S):
        try:
            await manager.retry_job(job)
        except (AlreadyEnqueued, UniqueViolation):
            # The same job is queued already, and waits for this one's lock: that is the repeat.
            await manager.finish_job(job, Status.FAILED, delete_job=True)


@app.periodic(cron="40 3 * * *")
@app.task(name="jobs.remove_failed", queueing_lock="jobs.remove_failed", pass_context=True)
async def remove_failed(context: JobContext, timestamp: int) -> None:
    """Let go of jobs that failed long ago; what they were about tells its own state."""
    await context.app.job_manager.delete_old_jobs(
        nb_hours=FAILED_KEPT_HOURS, include_failed=True, include_cancelled=True
    )
