"""Units, the revisions of their plans, ticks of their entry sheets, and kept results of their years."""

from datetime import datetime
from functools import cached_property

from django.db import models
from django.utils import timezone

from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import Plan, read_plan
from skavit.crews.models import User
from skavit.crews.soft_delete import SoftDelete, SoftDeleteQuerySet
from skavit.kinds.models import Kind
from skavit.server.history import kept_history
from skavit.sites.models import Site


class Unit(SoftDelete):
    """A device at a site. Its plan is the document of ``head``."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="units")
    name = models.CharField(max_length=80)
    whereabouts = models.CharField("where it hangs", max_length=120, blank=True)
    kind = models.ForeignKey(Kind, on_delete=models.RESTRICT, null=True, blank=True, related_name="units")
    shipped_kind = models.SlugField(blank=True)  # where its kind is one that ships
    head = models.ForeignKey(
        "PlanRevision", on_delete=models.RESTRICT, null=True, editable=False, related_name="head_of"
    )
    result = models.ForeignKey(
        "YearResult", on_delete=models.SET_NULL, null=True, editable=False, related_name="+"
    )  # of this year, as far as it has been worked out: lists read it and no plan
    keyed = models.ForeignKey(
        "PlanRevision", on_delete=models.SET_NULL, null=True, editable=False, related_name="+"
    )  # what is in the device since its last visit
    keyed_at = models.DateTimeField(null=True, editable=False)  # when it was: programs of seasons turn by date
    # The worst of its findings that nobody means so, where some are meant so; None: that of its result.
    accepted_severity = models.CharField(max_length=10, null=True, editable=False)
    created = models.DateTimeField(auto_now_add=True)

    objects = SoftDeleteQuerySet.as_manager()
    history = kept_history("head", "result", "keyed", "keyed_at", "accepted_severity", "created")

    class Meta:
        ordering = ("site__name", "name")
        constraints = (
            models.UniqueConstraint(
                fields=("site", "name"), condition=models.Q(removed=None), name="unit_name_is_unique_at_a_site"
            ),
        )

    def __str__(self) -> str:
        return f"{self.site}, {self.name}"

    def point(self, **to: "PlanRevision | datetime") -> None:
        """Let it point at other revisions; they tell their own story, and nothing of the unit itself changes."""
        for name, revision in to.items():
            setattr(self, name, revision)
        Unit.objects.filter(pk=self.pk).update(**to)

    @property
    def head_revision(self) -> "PlanRevision":
        """The newest revision. A unit is written together with its first one."""
        if self.head is None:
            raise ValueError(f"unit {self.pk} has no plan")
        return self.head

    @property
    def plan(self) -> Plan:
        """The newest plan, at the site's place; the same object until either changes."""
        place, kept = self.site.place, self.__dict__.get("_plan")
        if kept is None or kept[0] is not self.head_revision or kept[1].site != place:
            kept = self.__dict__["_plan"] = (self.head_revision, self.plan_of(self.head_revision))
        return kept[1]

    @cached_property
    def core_kind(self) -> CoreKind | None:
        """Its kind, where one has been chosen."""
        if self.kind is not None:
            return self.kind.kind
        return next((kind for kind in shipped_kinds() if kind.slug == self.shipped_kind), None)

    @property
    def kind_name(self) -> str:
        """The name of its kind; empty where none has been chosen."""
        if self.kind is not None:
            return self.kind.name  # the document's own: lists need not read it
        return self.core_kind.name if self.core_kind else ""

    @property
    def is_keyed(self) -> bool:
        """Whether the device holds what the plan keys, since its last visit."""
        return self.keyed is not None and self.keyed.keyed_hash == self.head_revision.keyed_hash != ""

    @property
    def awaits_keying(self) -> bool:
        """Whether the plan has changed since the last visit in something that is keyed."""
        return self.keyed is not None and not self.is_keyed

    def plan_of(self, revision: "PlanRevision") -> Plan:
        """The plan of one of the unit's revisions, at the place where the site now is."""
        return revision.plan.at_site(self.site.place)


class PlanRevision(models.Model):
    """One state of a unit's plan; never changed once written."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="children")
    document = models.JSONField()
    content_hash = models.CharField(max_length=64)
    keyed_hash = models.CharField(max_length=64, blank=True)  # of what is keyed alone: lists tell by it what is not yet
    note = models.CharField(max_length=200)
    author = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("unit", "number")
        constraints = (models.UniqueConstraint(fields=("unit", "number"), name="revision_number_is_unique_in_a_unit"),)

    def __str__(self) -> str:
        return f"{self.number}: {self.note}"

    @cached_property
    def plan(self) -> Plan:
        """The document read by the core, once."""
        return read_plan(Node(self.document))


class Tick(models.Model):
    """A step of the entry sheet seen done, or opened again. ``key`` names what it says, so a changed step is open."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=64)
    done = models.BooleanField(default=True)
    said = models.DateTimeField(default=timezone.now)  # when it was pressed: what was pressed later counts
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("at",)
        constraints = (models.UniqueConstraint(fields=("unit", "key"), name="one_tick_a_step"),)

    def __str__(self) -> str:
        return self.key


class AsFound(models.Model):
    """A unit as somebody found it, before anything was reset; never changed once written."""

    AUTOMATIC = "automatic"  # the mode of `shown` in which the program runs

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="as_found")
    shown = models.JSONField()  # what its display showed, by field; what was not looked at is left out
    lines = models.TextField(blank=True)  # its entries, as typed, a line each
    entries = models.JSONField()  # the same as the plan file has them
    looked_at = models.BigIntegerField()  # the instant at which it was looked at, seconds of UTC
    author = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-looked_at",)

    def __str__(self) -> str:
        return f"{self.unit} as found {self.at:%Y-%m-%d}"


class MeantSo(models.Model):
    """A finding that somebody accepts, with a reason, until a date; it comes back with another plan."""

    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="meant")
    finding = models.CharField(max_length=200)  # its identity
    content_hash = models.CharField(max_length=64)  # of the plan of which it is told
    reason = models.CharField(max_length=200)
    until = models.DateField()  # the last day
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("unit", "finding"), name="a_finding_is_meant_so_once"),)

    def __str__(self) -> str:
        return f"{self.finding} until {self.until}"


class YearResult(models.Model):
    """What a plan does in a year, kept by what it was computed from, so that lists never compute."""

    content_hash = models.CharField(max_length=64)
    year = models.PositiveSmallIntegerField()
    calculation = models.CharField(max_length=40)  # the release of the core and of the zone data
    place = models.CharField(max_length=120)  # where the site was: a site that has moved makes it stale
    severity = models.CharField(max_length=10, blank=True)  # of its worst finding; empty where there is none
    lacks = models.CharField(max_length=6, blank=True)  # "wanted" or "keyed": what the plan has nothing of
    findings = models.JSONField()
    thumbnail = models.TextField()

    class Meta:
        constraints = (
            models.UniqueConstraint(
                fields=("content_hash", "year", "calculation"), name="one_result_a_plan_year_and_calculation"
            ),
        )

    def __str__(self) -> str:
        return f"{self.content_hash[:8]} {self.year}"
