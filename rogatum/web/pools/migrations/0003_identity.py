"""What makes two items the same is more than it was: key, pictures and passage count. The digests are made anew."""

from django.db import migrations

from rogatum.core.items import item_from
from rogatum.core.items.identity import identity_of

BATCH = 500


def made_anew(apps, _schema):
    items = apps.get_model("pools", "Item").objects
    batch = []
    for row in items.only("id", "body", "stimulus").iterator(chunk_size=BATCH):
        row.digest = identity_of(item_from(row.body), (row.stimulus or {}).get("content", "")).whole
        batch.append(row)
        if len(batch) == BATCH:
            items.bulk_update(batch, ["digest"])
            batch = []
    items.bulk_update(batch, ["digest"])


class Migration(migrations.Migration):
    dependencies = [("pools", "0002_full_text")]

    operations = [migrations.RunPython(made_anew, migrations.RunPython.noop)]
