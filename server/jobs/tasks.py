"""Jobs whose worker died are taken up again."""

from procrastinate import JobContext
from procrastinate.contrib.django import app


@app.periodic(cron="* * * * *")
@app.task(name="jobs.retry_stalled", queueing_lock="jobs.retry_stalled", pass_context=True)
async def retry_stalled(context: JobContext, timestamp: int) -> None:
    """Queue again what a worker without a heartbeat left half done; every step can be repeated."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs():
        await manager.retry_job(job)
