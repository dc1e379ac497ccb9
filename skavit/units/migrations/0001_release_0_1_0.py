"""The tables of release 0.1.0."""

import django.db.models.deletion
import django.utils.timezone
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    # A database of before the release has all of these.
    replaces = [
        ("units", "0001_initial"),
        ("units", "0002_kinds"),
        ("units", "0003_as_found"),
        ("units", "0004_ticks_by_time"),
        ("units", "0005_as_found_related"),
        ("units", "0006_yearresult_severity"),
        ("units", "0007_lasting"),
        ("units", "0008_keyed"),
        ("units", "0009_history"),
    ]

    initial = True

    dependencies = [
        ("kinds", "0001_release_0_1_0"),
        ("sites", "0001_release_0_1_0"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="PlanRevision",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("document", models.JSONField()),
                ("content_hash", models.CharField(max_length=64)),
                ("keyed_hash", models.CharField(blank=True, max_length=64)),
                ("note", models.CharField(max_length=200)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "author",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "parent",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="children",
                        to="units.planrevision",
                    ),
                ),
            ],
            options={
                "ordering": ("unit", "number"),
            },
        ),
        migrations.CreateModel(
            name="Unit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("archived", models.DateTimeField(editable=False, null=True)),
                ("removed", models.DateTimeField(editable=False, null=True)),
                ("name", models.CharField(max_length=80)),
                ("whereabouts", models.CharField(blank=True, max_length=120, verbose_name="where it hangs")),
                ("shipped_kind", models.SlugField(blank=True)),
                ("created", models.DateTimeField(auto_now_add=True)),
                (
                    "head",
                    models.ForeignKey(
                        editable=False,
                        null=True,
                        on_delete=django.db.models.deletion.RESTRICT,
                        related_name="head_of",
                        to="units.planrevision",
                    ),
                ),
                (
                    "keyed",
                    models.ForeignKey(
                        editable=False,
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="units.planrevision",
                    ),
                ),
                (
                    "kind",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.RESTRICT,
                        related_name="units",
                        to="kinds.kind",
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="units", to="sites.site"
                    ),
                ),
            ],
            options={
                "ordering": ("site__name", "name"),
            },
        ),
        migrations.AddField(
            model_name="planrevision",
            name="unit",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="revisions", to="units.unit"
            ),
        ),
        migrations.CreateModel(
            name="HistoricalUnit",
            fields=[
                ("id", models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name="ID")),
                ("archived", models.DateTimeField(editable=False, null=True)),
                ("removed", models.DateTimeField(editable=False, null=True)),
                ("name", models.CharField(max_length=80)),
                ("whereabouts", models.CharField(blank=True, max_length=120, verbose_name="where it hangs")),
                ("shipped_kind", models.SlugField(blank=True)),
                ("history_id", models.AutoField(primary_key=True, serialize=False)),
                ("history_date", models.DateTimeField(db_index=True)),
                ("history_change_reason", models.CharField(max_length=100, null=True)),
                (
                    "history_type",
                    models.CharField(choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")], max_length=1),
                ),
                (
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "kind",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="kinds.kind",
                    ),
                ),
                (
                    "site",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="sites.site",
                    ),
                ),
                (
                    "history_relation",
                    models.ForeignKey(
                        db_constraint=False,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="changes",
                        to="units.unit",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical unit",
                "verbose_name_plural": "historical units",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="AsFound",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("shown", models.JSONField()),
                ("lines", models.TextField(blank=True)),
                ("entries", models.JSONField()),
                ("looked_at", models.BigIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "author",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="as_found", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": ("-looked_at",),
            },
        ),
        migrations.CreateModel(
            name="YearResult",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("content_hash", models.CharField(max_length=64)),
                ("year", models.PositiveSmallIntegerField()),
                ("calculation", models.CharField(max_length=40)),
                ("place", models.CharField(max_length=120)),
                ("severity", models.CharField(blank=True, max_length=10)),
                ("findings", models.JSONField()),
                ("thumbnail", models.TextField()),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(
                        fields=("content_hash", "year", "calculation"), name="one_result_a_plan_year_and_calculation"
                    )
                ],
            },
        ),
        migrations.AddField(
            model_name="unit",
            name="result",
            field=models.ForeignKey(
                editable=False,
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to="units.yearresult",
            ),
        ),
        migrations.CreateModel(
            name="Tick",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("done", models.BooleanField(default=True)),
                ("said", models.DateTimeField(default=django.utils.timezone.now)),
                ("at", models.DateTimeField(auto_now=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="ticks", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": ("at",),
                "constraints": [models.UniqueConstraint(fields=("unit", "key"), name="one_tick_a_step")],
            },
        ),
        migrations.AddConstraint(
            model_name="planrevision",
            constraint=models.UniqueConstraint(fields=("unit", "number"), name="revision_number_is_unique_in_a_unit"),
        ),
        migrations.AddConstraint(
            model_name="unit",
            constraint=models.UniqueConstraint(
                condition=models.Q(("removed", None)), fields=("site", "name"), name="unit_name_is_unique_at_a_site"
            ),
        ),
    ]
