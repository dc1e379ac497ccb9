"""What stands in a device since its last visit, and a hash of what is keyed, so that lists can tell what is not yet."""

import django.db.models.deletion
from django.db import migrations, models

from skavit.core.ground.errors import UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.keyed import keyed_hash


def hash_what_is_keyed(apps, schema_editor):
    revisions = apps.get_model("units", "PlanRevision").objects.only("pk", "document")
    for revision in revisions.iterator(chunk_size=500):
        try:
            revision.keyed_hash = keyed_hash(read_plan(Node(revision.document)))
        except UserError:
            continue  # of an older release, and no unit stands at it: without a hash it is like no other
        revision.save(update_fields=["keyed_hash"])


class Migration(migrations.Migration):
    dependencies = [
        ("units", "0007_lasting"),
    ]

    operations = [
        migrations.AddField(
            model_name="planrevision",
            name="keyed_hash",
            field=models.CharField(blank=True, max_length=64),
        ),
        migrations.AddField(
            model_name="unit",
            name="keyed",
            field=models.ForeignKey(
                editable=False,
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to="units.planrevision",
            ),
        ),
        migrations.RunPython(hash_what_is_keyed, migrations.RunPython.noop),
    ]
