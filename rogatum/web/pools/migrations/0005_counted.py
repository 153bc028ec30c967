"""What filters count is kept beside the body: filled in for the items that are there."""

from django.db import migrations

from rogatum.core.items import item_from
from rogatum.web.pools.bodies import columns_of

BATCH = 500
NEW = ("picture", "formula", "feedback", "findings", "advice")


def fill_in(apps, _schema):
    items = apps.get_model("pools", "Item").objects
    read = apps.get_model("sources", "ReadingItem").objects.filter(taken__isnull=False)
    sources = dict(read.values_list("taken", "reading__source__name"))
    batch = []
    for row in items.only("id", "body", "stimulus", "origin").iterator(chunk_size=BATCH):
        columns = columns_of(item_from(row.body), row.stimulus)
        for name in NEW:
            setattr(row, name, columns[name])
        row.source = sources.get(row.pk, row.origin.partition(", ")[0])[:300]
        batch.append(row)
        if len(batch) == BATCH:
            items.bulk_update(batch, [*NEW, "source"])
            batch = []
    items.bulk_update(batch, [*NEW, "source"])


class Migration(migrations.Migration):
    dependencies = [("pools", "0004_sharing"), ("sources", "0005_desk")]

    operations = [migrations.RunPython(fill_in, migrations.RunPython.noop)]
