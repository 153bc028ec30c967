"""What answering takes and what there is to read: filled in for the items that are there."""

from importlib import import_module

from django.db import migrations

from rogatum.core.items import item_from
from rogatum.web.pools.bodies import columns_of

# Adding columns made the table anew, and its triggers went with the old one.
TRIGGERS = import_module("rogatum.web.pools.migrations.0005_counted").TRIGGERS
BATCH = 500
NEW = ("seconds", "words", "key_place")


def fill_in(apps, _schema):
    items = apps.get_model("pools", "Item").objects
    batch = []
    for row in items.only("id", "body", "stimulus").iterator(chunk_size=BATCH):
        columns = columns_of(item_from(row.body), row.stimulus)
        for name in NEW:
            setattr(row, name, columns[name])
        batch.append(row)
        if len(batch) == BATCH:
            items.bulk_update(batch, NEW)
            batch = []
    items.bulk_update(batch, NEW)


class Migration(migrations.Migration):
    dependencies = [("pools", "0006_reading_load")]

    operations = [migrations.RunPython(fill_in, migrations.RunPython.noop), migrations.RunSQL(TRIGGERS, migrations.RunSQL.noop)]
