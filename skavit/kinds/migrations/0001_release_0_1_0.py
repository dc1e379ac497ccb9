"""The tables of release 0.1.0."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    # A database of before the release has all of these.
    replaces = [
        ("kinds", "0001_initial"),
        ("kinds", "0002_kind_version"),
        ("kinds", "0003_lasting"),
        ("kinds", "0004_history"),
    ]

    initial = True

    dependencies = [
        ("crews", "0001_release_0_1_0"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Kind",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("archived", models.DateTimeField(editable=False, null=True)),
                ("removed", models.DateTimeField(editable=False, null=True)),
                ("name", models.CharField(max_length=80)),
                ("document", models.JSONField()),
                ("version", models.PositiveIntegerField(default=1, editable=False)),
                ("changed", models.DateTimeField(auto_now=True)),
                (
                    "crew",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="kinds", to="crews.crew"
                    ),
                ),
            ],
            options={
                "ordering": ("name",),
            },
        ),
        migrations.CreateModel(
            name="HistoricalKind",
            fields=[
                ("id", models.BigIntegerField(auto_created=True, blank=True, db_index=True, verbose_name="ID")),
                ("archived", models.DateTimeField(editable=False, null=True)),
                ("removed", models.DateTimeField(editable=False, null=True)),
                ("name", models.CharField(max_length=80)),
                ("document", models.JSONField()),
                ("history_id", models.AutoField(primary_key=True, serialize=False)),
                ("history_date", models.DateTimeField(db_index=True)),
                ("history_change_reason", models.CharField(max_length=100, null=True)),
                (
                    "history_type",
                    models.CharField(choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")], max_length=1),
                ),
                (
                    "crew",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="crews.crew",
                    ),
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
                    "history_relation",
                    models.ForeignKey(
                        db_constraint=False,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="changes",
                        to="kinds.kind",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical kind",
                "verbose_name_plural": "historical kinds",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.AddConstraint(
            model_name="kind",
            constraint=models.UniqueConstraint(
                condition=models.Q(("removed", None)), fields=("crew", "name"), name="kind_name_is_unique_in_a_crew"
            ),
        ),
    ]
