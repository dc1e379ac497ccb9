"""The tables of release 0.1.0."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    # A database of before the release has all of these.
    replaces = [("customer", "0001_share_links"), ("customer", "0002_whole_site")]

    initial = True

    dependencies = [
        ("crews", "0001_release_0_1_0"),
        ("units", "0001_release_0_1_0"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="ShareLink",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("secret_hash", models.CharField(max_length=64, unique=True)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("revoked", models.DateTimeField(null=True)),
                ("whole_site", models.BooleanField(default=False)),
                (
                    "language",
                    models.CharField(
                        choices=[("en", "English"), ("de", "Deutsch"), ("fr", "Français"), ("es", "Español")],
                        max_length=5,
                    ),
                ),
                ("whom", models.CharField(blank=True, max_length=80)),
                ("ends", models.DateTimeField()),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "crew",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="share_links", to="crews.crew"
                    ),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="share_links", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": ("-created",),
                "abstract": False,
            },
        ),
    ]
