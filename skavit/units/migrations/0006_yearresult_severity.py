"""The severity of the worst finding of a kept year, so that lists can ask for it."""

from django.db import migrations, models
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Coalesce


def take_from_the_findings(apps, schema_editor):
    result = apps.get_model("units", "YearResult")
    first = KeyTextTransform("severity", KeyTextTransform("0", "findings"))
    result.objects.update(severity=Coalesce(first, models.Value("")))


class Migration(migrations.Migration):
    dependencies = [("units", "0005_as_found_related")]

    operations = [
        migrations.AddField(
            model_name="yearresult",
            name="severity",
            field=models.CharField(blank=True, default="", max_length=10),
            preserve_default=False,
        ),
        migrations.RunPython(take_from_the_findings, migrations.RunPython.noop),
    ]
