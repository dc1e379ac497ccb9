"""Pages as templates take them."""

from dataclasses import fields
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from _typeshed import DataclassInstance


def shown(page: "DataclassInstance") -> dict[str, Any]:
    """What a page shows, by the names of its fields."""
    return {field.name: getattr(page, field.name) for field in fields(page)}
