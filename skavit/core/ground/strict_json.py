"""Strict reading of JSON: every refusal names the path, what is wrong and what is accepted.

The rules are those of docs/plan-file.md, "Reading it strictly".
"""

import json
import math
import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, NoReturn

from skavit.core.ground.errors import PlanError, quoted

MAX_BYTES = 16_000_000
MAX_DEPTH = 32
MAX_ITEMS = 10_000
MAX_DIGITS = 30
UNSTORABLE = re.compile("[\x00-\x1f\ud800-\udfff]")  # control characters, and halves of letters


class _Doubled(dict[str, Any]):
    """An object that has a key twice."""

    key: str


@dataclass(frozen=True, slots=True)
class _NotANumber:
    """A number literal that JSON or a double cannot hold."""

    text: str


def _pairs(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) == len(pairs):
        return found
    doubled = _Doubled(found)
    seen: set[str] = set()
    for key, _ in pairs:
        if key in seen:
            doubled.key = key
        seen.add(key)
    return doubled


def _float(text: str) -> float | _NotANumber:
    value = float(text)
    return value if math.isfinite(value) else _NotANumber(text)


def _int(text: str) -> int | _NotANumber:
    return int(text) if len(text) <= MAX_DIGITS else _NotANumber(text)


def join(path: str, step: str | int) -> str:
    """The path one step further down: ``a.b`` or ``a[3]``."""
    if isinstance(step, int):
        return f"{path}[{step}]"
    name = step if re.fullmatch(r"[A-Za-z0-9_-]{1,60}", step) else quoted(step)
    return f"{path}.{name}" if path else name


def _refuse_unsound(value: Any, path: str, depth: int) -> None:
    """Refuse what JSON's grammar lets through and a plan must not hold."""
    if depth > MAX_DEPTH:
        raise PlanError(path, f"nested deeper than {MAX_DEPTH}", f"at most {MAX_DEPTH} levels")
    if isinstance(value, _Doubled):
        raise PlanError(join(path, value.key), "the key stands twice in one object", "each key once")
    if isinstance(value, _NotANumber):
        raise PlanError(path, f"{quoted(value.text)} is not a number a plan can hold", "a finite number")
    if isinstance(value, str) and not _storable(value):
        raise PlanError(path, "holds a character that is no text", "text without control characters")
    if isinstance(value, dict):
        for key, item in value.items():
            if not _storable(key):
                raise PlanError(path, "a key holds a character that is no text", "the keys of the format")
            _refuse_unsound(item, join(path, key), depth + 1)
    elif isinstance(value, list):
        if len(value) > MAX_ITEMS:
            raise PlanError(path, f"a list of {len(value)} items", f"at most {MAX_ITEMS} items")
        for index, item in enumerate(value):
            _refuse_unsound(item, join(path, index), depth + 1)


def _storable(text: str) -> bool:
    return UNSTORABLE.search(text) is None


def parse_json(data: bytes) -> Any:
    """The value of a JSON file, refused where it is no sound JSON.

    Raises :class:`PlanError` for what is not UTF-8 or not JSON, keys that stand twice, numbers that are none or
    overflow, nesting and lists beyond the bounds, and files over 16 MB.
    """
    if len(data) > MAX_BYTES:
        raise PlanError("", "larger than 16 MB", "a file of at most 16 MB")
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise PlanError("", f"byte {error.start} is not UTF-8", "JSON in UTF-8") from error
    try:
        value = json.loads(
            text, object_pairs_hook=_pairs, parse_constant=_NotANumber, parse_float=_float, parse_int=_int
        )
    except RecursionError as error:
        raise PlanError("", f"nested deeper than {MAX_DEPTH}", f"at most {MAX_DEPTH} levels") from error
    except ValueError as error:
        raise PlanError("", f"not JSON ({error})", "JSON in UTF-8") from error
    _refuse_unsound(value, "", 1)
    return value


@dataclass(frozen=True, slots=True)
class Node:
    """A value of a JSON document, with its path."""

    value: Any
    path: str = ""

    def refuse(self, accepted: str, wrong: str | None = None) -> NoReturn:
        """Raise the error for this place."""
        raise PlanError(self.path, wrong or f"{quoted(self.value)} is not accepted", accepted)

    def object(self, keys: Iterable[str], *, required: Iterable[str] = ()) -> "ObjectNode":
        """This value as an object with no other keys than ``keys`` and with all of ``required``."""
        if not isinstance(self.value, dict):
            self.refuse("an object", f"{quoted(self.value)} is no object")
        known = list(keys)
        for key in self.value:
            if key not in known:
                raise PlanError(join(self.path, key), "unknown key", ", ".join(known))
        found = ObjectNode(self.value, self.path)
        for key in required:
            if key not in self.value:
                found.must(key)
        return found

    def items(self, what: str, *, least: int = 0) -> list["Node"]:
        """This value as a list of nodes, ``least`` of them or more."""
        if not isinstance(self.value, list):
            self.refuse(f"a list of {what}", f"{quoted(self.value)} is no list")
        if len(self.value) > MAX_ITEMS:
            self.refuse(f"at most {MAX_ITEMS} items", f"a list of {len(self.value)} items")
        if len(self.value) < least:
            self.refuse(f"a list of at least {least} {what}", f"a list of {len(self.value)}")
        return [Node(item, join(self.path, index)) for index, item in enumerate(self.value)]

    def text(self, what: str = "text", *, longest: int = 200) -> str:
        """This value as text that is not blank."""
        if not isinstance(self.value, str):
            self.refuse(what, f"{quoted(self.value)} is no text")
        if not self.value.strip() or len(self.value) > longest:
            self.refuse(f"{what}, 1 to {longest} characters", "blank" if not self.value.strip() else "too long")
        return self.value

    def choice(self, words: Iterable[str]) -> str:
        """This value as one of some words."""
        words = list(words)
        if not isinstance(self.value, str) or self.value not in words:
            self.refuse(", ".join(f'"{word}"' for word in words))
        return self.value

    def number(self, low: float, high: float) -> float:
        """This value as a number from ``low`` to ``high``."""
        if isinstance(self.value, bool) or not isinstance(self.value, int | float):
            self.refuse(f"a number from {low:g} to {high:g}", f"{quoted(self.value)} is no number")
        if not low <= self.value <= high:
            self.refuse(f"a number from {low:g} to {high:g}", f"{quoted(self.value)} is out of range")
        return self.value

    def integer(self, low: int, high: int) -> int:
        """This value as a whole number from ``low`` to ``high``."""
        value = self.number(low, high)
        if value != int(value):
            self.refuse(f"a whole number from {low} to {high}", f"{quoted(self.value)} is not whole")
        return int(value)

    def flag(self) -> bool:
        """This value as true or false."""
        if not isinstance(self.value, bool):
            self.refuse("true or false")
        return self.value


class ObjectNode(Node):
    """An object whose keys have been checked."""

    __slots__ = ()

    def __contains__(self, key: str) -> bool:
        return key in self.value

    def __getitem__(self, key: str) -> Node:
        return Node(self.value[key], join(self.path, key))

    def get(self, key: str) -> Node | None:
        """The node at a key, or None where the key is left out."""
        return self[key] if key in self.value else None

    def must(self, key: str) -> NoReturn:
        """Raise the error for a key that is missing here."""
        raise PlanError(join(self.path, key), "is missing", "this key must be given")
