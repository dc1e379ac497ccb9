"""A crew's own kinds. Those that ship stand in the core's library and in no table."""

from django.db import models

from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import read_kind
from skavit.crews.models import Crew
from skavit.crews.soft_delete import SoftDelete, SoftDeleteQuerySet
from skavit.server.history import kept_history


class Kind(SoftDelete):
    """A kind of unit as a crew has it, a `skavit-kind/1` document; ``name`` is the document's own, for lists."""

    crew = models.ForeignKey(Crew, on_delete=models.CASCADE, related_name="kinds")
    name = models.CharField(max_length=80)
    document = models.JSONField()
    version = models.PositiveIntegerField(default=1, editable=False)  # counts its changes: a stale page is refused
    changed = models.DateTimeField(auto_now=True)

    objects = SoftDeleteQuerySet.as_manager()
    history = kept_history("version", "changed")

    class Meta:
        ordering = ("name",)
        constraints = (
            models.UniqueConstraint(
                fields=("crew", "name"), condition=models.Q(removed=None), name="kind_name_is_unique_in_a_crew"
            ),
        )

    def __str__(self) -> str:
        return self.name

    def call(self, name: str) -> list[str]:
        """Give it a name, its document too."""
        self.document = {**self.document, "name": name}
        return ["document", *super().call(name)]

    @property
    def kind(self) -> CoreKind:
        """The document read by the core."""
        return read_kind(Node(self.document))
