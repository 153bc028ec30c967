"""What filters count is kept beside the body: filled in for the items that are there."""

from django.db import migrations

from rogatum.core.items import item_from
from rogatum.web.pools.bodies import columns_of

# Adding columns made the table anew, and its triggers went with the old one.
WORDS = """(SELECT coalesce(group_concat(value, ' '), '') FROM json_tree(new.body)
  WHERE type = 'text' AND (key IN ('content', 'text', 'left', 'right') OR typeof(key) = 'integer'))"""
TRIGGERS = f"""
DROP TRIGGER IF EXISTS pools_item_fts_insert;
DROP TRIGGER IF EXISTS pools_item_fts_delete;
DROP TRIGGER IF EXISTS pools_item_fts_update;
CREATE TRIGGER pools_item_fts_insert AFTER INSERT ON pools_item BEGIN
  INSERT INTO pools_item_fts(rowid, text, title, words) VALUES (new.id, new.text, new.title || ' ' || new.outcome, {WORDS});
END;
CREATE TRIGGER pools_item_fts_delete AFTER DELETE ON pools_item BEGIN
  DELETE FROM pools_item_fts WHERE rowid = old.id;
END;
CREATE TRIGGER pools_item_fts_update AFTER UPDATE OF text, title, outcome, digest, body ON pools_item
WHEN old.digest <> new.digest OR old.text <> new.text OR old.title <> new.title OR old.outcome <> new.outcome BEGIN
  DELETE FROM pools_item_fts WHERE rowid = old.id;
  INSERT INTO pools_item_fts(rowid, text, title, words) VALUES (new.id, new.text, new.title || ' ' || new.outcome, {WORDS});
END;
"""
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

    operations = [migrations.RunPython(fill_in, migrations.RunPython.noop), migrations.RunSQL(TRIGGERS, migrations.RunSQL.noop)]
