"""What a unit does next, as a list tells it."""

from skavit.core.ground.arrays import DAY_S
from skavit.core.text.wording import Words, weekday_date
from skavit.server.now import site_digits
from skavit.units.models import Unit
from skavit.units.trades import Live


def live_at(unit: Unit, instant: int, what: str, words: Words) -> Live:
    """What happens at an instant, by the site's clock."""
    day, seconds = divmod(site_digits(unit.site.place, instant), DAY_S)
    return Live(when=words.minute(seconds), what=f"{what}, {weekday_date(day)}")
