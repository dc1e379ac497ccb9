"""What the queue does by itself: once an hour it sends the mails of what is due. Its worker finds this module by its name."""

from procrastinate.contrib.django import app

from skavit.due.services.keeping import keep_lasting
from skavit.due.services.mailing import mail_due
from skavit.server.processes import QUEUE


@app.periodic(cron="7 * * * *")
@app.task(name="skavit.due.mail_due", queue=QUEUE, pass_context=False)
def mail_due_things(timestamp: int) -> None:
    """Send what is to be sent at this hour."""
    mail_due(timestamp)


@app.periodic(cron="17 * * * *")
@app.task(name="skavit.due.keep_lasting", queue=QUEUE, pass_context=False)
def keep_what_lasts(timestamp: int) -> None:
    """Once an hour see whether what was left by hand or suspended still lasts."""
    keep_lasting(timestamp)
