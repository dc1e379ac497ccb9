"""What the record teaches of a kind; rooms above put down here how it is asked when the application begins."""

from collections.abc import Callable

from skavit.core.due import Learned
from skavit.crews.models import Crew

# Of a kind that ships by its slug, of one of the crew's own by its key.
TAUGHT: list[Callable[[Crew, int | str | None], Learned]] = []


def taught_lines(crew: Crew, kind: int | str) -> list[str]:
    """What a crew's record says of a kind, in words."""
    return [line for ask in TAUGHT for line in ask(crew, kind).lines()]
