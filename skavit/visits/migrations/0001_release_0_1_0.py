"""The tables of release 0.1.0."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    # A database of before the release has all of these.
    replaces = [("visits", "0001_visits"), ("visits", "0002_notes")]

    initial = True

    dependencies = [
        ("crews", "0001_release_0_1_0"),
        ("units", "0001_release_0_1_0"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Note",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("token", models.UUIDField(unique=True)),
                ("text", models.TextField(blank=True)),
                ("at", models.DateTimeField()),
                ("away", models.DateTimeField(null=True)),
                (
                    "away_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="notes", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "-pk"),
            },
        ),
        migrations.CreateModel(
            name="Visit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("token", models.UUIDField(unique=True)),
                ("begun", models.DateTimeField()),
                ("ended", models.DateTimeField(null=True)),
                ("told", models.JSONField(default=dict)),
                ("read", models.JSONField(default=dict)),
                ("steps", models.JSONField(default=list)),
                ("document", models.JSONField(null=True)),
                (
                    "as_found",
                    models.OneToOneField(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="visit",
                        to="units.asfound",
                    ),
                ),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "crew",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="visits", to="crews.crew"
                    ),
                ),
                (
                    "ended_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "revision",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.RESTRICT,
                        related_name="+",
                        to="units.planrevision",
                    ),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="visits", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": ("-begun",),
            },
        ),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("token", models.UUIDField(unique=True)),
                ("image", models.BinaryField()),
                ("width", models.PositiveIntegerField()),
                ("height", models.PositiveIntegerField()),
                ("at", models.DateTimeField()),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "note",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="photos", to="visits.note"
                    ),
                ),
                (
                    "visit",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="photos", to="visits.visit"
                    ),
                ),
            ],
            options={
                "ordering": ("at", "pk"),
            },
        ),
        migrations.AddConstraint(
            model_name="visit",
            constraint=models.UniqueConstraint(fields=("crew", "number"), name="visit_number_is_unique_in_a_crew"),
        ),
        migrations.AddConstraint(
            model_name="visit",
            constraint=models.UniqueConstraint(
                condition=models.Q(("ended", None)), fields=("unit",), name="one_open_visit_a_unit"
            ),
        ),
        migrations.AddConstraint(
            model_name="visit",
            constraint=models.CheckConstraint(
                condition=models.Q(("ended", None), ("ended_by__isnull", False), _connector="OR"),
                name="an_ended_visit_has_who_ended_it",
            ),
        ),
        migrations.AddConstraint(
            model_name="photo",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("note__isnull", False), ("visit", None)),
                    models.Q(("note", None), ("visit__isnull", False)),
                    _connector="OR",
                ),
                name="a_photo_is_of_a_visit_or_of_a_note",
            ),
        ),
    ]
