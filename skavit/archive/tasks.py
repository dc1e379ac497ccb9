"""The daily deletion of what was removed long ago. The worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.archive.rows import purge_all
from skavit.server.now import read_instant
from skavit.server.processes import QUEUE


@app.periodic(cron="17 3 * * *")
@app.task(name="skavit.archive.purge", queue=QUEUE)
def purge_removed(timestamp: int) -> None:
    """Once a day."""
    purge_all(read_instant())
