"""A crew's archive asked for by an owner, written in the background."""

from io import BytesIO

from django.db.models import Sum
from django.db.models.functions import Length
from django.urls import reverse
from django.utils.text import slugify

from skavit.background import services as background
from skavit.background.models import Job
from skavit.background.work import OWNERS, Outcome, Report, does
from skavit.core.text.wording import count
from skavit.crews.models import Crew, Membership
from skavit.exchange.archive import write_archive
from skavit.visits.services.photos import photos_of

CREW_ARCHIVE = "crew-archive"
# What is kept until somebody has taken it lies in the database: more than this is for manage.py export_crew.
MOST_PHOTO_BYTES = 150_000_000


def ask_archive(membership: Membership) -> Job:
    """All data of a crew as one file, without passwords."""
    return background.begin(membership, CREW_ARCHIVE, f"All data of {membership.crew}", {}, reverse("exchange"))


@does(CREW_ARCHIVE, OWNERS)
def do_archive(job: Job, report: Report) -> Outcome:
    """Write the archive."""
    photos = photos_of(job.crew)
    size = photos.aggregate(size=Sum(Length("image")))["size"] or 0
    if size > MOST_PHOTO_BYTES:
        raise background.Refused(
            f"{count(photos.count(), 'photo')} of {size / 1e6:.0f} MB are too much for a page. "
            "Whoever runs the server writes the archive with manage.py export_crew."
        )
    report(10, "gathering")
    out = BytesIO()
    write_archive(Crew.objects.get(pk=job.crew_id), out)
    return Outcome(
        told="The archive is ready. People choose new passwords by a link where it is put in.",
        answer=out.getvalue(),
        answer_name=f"{slugify(job.crew.name) or 'crew'}.zip",
        answer_type="application/zip",
    )
