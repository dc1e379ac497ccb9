"""What the queue knows: that a request is to be answered. Its worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.apart import services
from skavit.apart.run import run


@app.task(name=services.TASK, queue=services.QUEUE)
def answer(pk: int) -> None:
    """Answer a request by its number."""
    run(pk)
