"""A kind played through: its keypad and display after one press of the sheet, and the way through all of them."""

from dataclasses import dataclass

from cachetools import LRUCache, cached

from skavit.core.kinds import Kind
from skavit.core.sheet import Frame, Played, played

KINDS_KEPT = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class PlayedStep:
    """A step of the sheet, and the frame at which it begins."""

    title: str
    at: int
    here: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PlayPage:
    """One frame of a kind that is played through."""

    kind: Kind
    back: str  # the address of the kind
    frame: Frame | None
    at: int  # from 1
    total: int
    more: int
    wrong: tuple[str, ...]
    steps: list[PlayedStep]


@cached(LRUCache(KINDS_KEPT), key=lambda kind: str(kind.to_json()))
def _played(kind: Kind) -> Played:
    return played(kind)


def trouble(kind: Kind) -> tuple[str, ...]:
    """What of a kind cannot be keyed by its own keys; empty where it plays through."""
    return _played(kind).wrong


def play_page(kind: Kind, at: int, back: str) -> PlayPage:
    """The kind after the ``at``-th press."""
    found = _played(kind)
    at = min(max(at, 1), max(len(found.frames), 1))
    begun: list[PlayedStep] = []
    for number, frame in enumerate(found.frames, start=1):
        if number == 1 or frame.title != found.frames[number - 2].title:
            begun.append(PlayedStep(title=frame.title, at=number, here=False))
    here = max((step.at for step in begun if step.at <= at), default=1)
    return PlayPage(
        kind=kind,
        back=back,
        frame=found.frames[at - 1] if found.frames else None,
        at=at,
        total=len(found.frames),
        more=found.more,
        wrong=found.wrong,
        steps=[PlayedStep(title=step.title, at=step.at, here=step.at == here) for step in begun],
    )
