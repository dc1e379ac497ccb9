"""What the forms of a kind share: they show parts of its document, and let the core judge what was typed."""

import re
from abc import abstractmethod
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind, read_kind
from skavit.core.kinds.parts import Press
from skavit.core.kinds.spoken import presses_text, read_presses
from skavit.core.plan.document import Site
from skavit.core.text.wording import capital
from skavit.web.versions import VersionField


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """Fields that are about one thing."""

    title: str
    help_text: str
    fields: list[forms.BoundField]
    table: list[forms.BoundField]  # fields that stand in rows of ``columns``
    columns: int = 2
    brief: str = ""  # what it says in a line: then it is folded up


SiteNamed = Callable[[str], Site | None]


def _no_site(_: str) -> None:
    return None


class DocumentForm(forms.Form):
    """A form that shows a kind; valid, it has ``made`` the kind with what was typed."""

    version = VersionField()

    def __init__(
        self, *args: Any, kind: Kind, version: int, today: date, site_named: SiteNamed = _no_site, **kwargs: Any
    ) -> None:
        """``site_named`` finds a site of the crew, by which a region may be told; ``today`` is for dates without a year."""
        super().__init__(*args, **{**kwargs, "initial": self.shown(kind) | {"version": version}})
        self.kind, self.site_named, self.today = kind, site_named, today
        self.made: Kind | None = None

    @staticmethod
    @abstractmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""

    @abstractmethod
    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed. Raises :class:`PlanError`."""

    @abstractmethod
    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""

    def make(self, data: dict[str, Any]) -> Kind:
        """The kind with what was typed. Raises :class:`PlanError`."""
        return read_kind(Node(self.document(data)))

    def group(
        self, title: str, *names: str, help_text: str = "", table: Sequence[str] = (), columns: int = 2, brief: str = ""
    ) -> Group:
        """Some of the fields under a heading."""
        return Group(
            title=title,
            help_text=help_text,
            fields=[self[name] for name in names if name in self.fields],
            table=[self[name] for name in table],
            columns=columns,
            brief=brief,
        )

    def clean(self) -> dict[str, Any]:
        """The kind with what was typed, if the core takes it."""
        data = super().clean() or {}
        if self.errors:
            return data
        try:
            self.made = self.make(data)
        except PlanError as error:
            message = f"{_where(error.path)}: {error.wrong}. Accepted: {error.accepted}."
            raise forms.ValidationError(message) from error
        return data


def _where(path: str) -> str:
    """The place of a fault in words: clock, fields 2, key."""
    counted = re.sub(r"\[(\d+)\]", lambda match: f" {int(match[1]) + 1}", path)
    plain = counted.replace("_dialogue", "").replace("_", " ")
    return capital(plain.replace(".", ", ") or "the kind")


def key_choices(kind: Kind) -> list[tuple[str, str]]:
    """The kind's keys to choose from, and none."""
    return [("", "–"), *((key, key) for key in kind.keys)]


def presses_json(text: str, before: tuple[Press, ...], path: str) -> list[Any]:
    """Typed presses as a document has them; those of before where the text is still theirs."""
    presses = before if text.strip() == presses_text(before) else read_presses(text, path)
    return [press.to_json() for press in presses]
