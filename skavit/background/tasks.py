"""What the queue knows: that a job is to be run. Its worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.background import services
from skavit.background.run import run


@app.task(name=services.TASK, queue=services.QUEUE)
def run_job(pk: int) -> None:
    """Run a job by its number."""
    services.give_up_lost()
    run(pk)
