"""What the queue knows: that a job is to be run. Its worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.background import services
from skavit.background.run import run
from skavit.server.processes import QUEUE


@app.periodic(cron="* * * * *")
@app.task(name="skavit.background.bring_back_lost", queue=QUEUE)
def bring_back_lost(timestamp: int) -> None:
    """Once a minute."""
    services.bring_back_lost()


@app.task(name=services.TASK, queue=QUEUE)
def run_job(pk: int) -> None:
    """Run a job by its number."""
    run(pk)
