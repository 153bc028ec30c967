"""A reading holds the tests of its source as quizzes, where it held their draws alone; and what makes two items the same is more."""

import re

from django.db import migrations, models

from rogatum.core.items import item_from
from rogatum.core.items.identity import identity_of
from rogatum.core.quizzes.model import Draw, Part, Quiz

BATCH = 500
_SHA = re.compile(r"[0-9a-f]{64}")


def quizzes_of_draws(apps, _schema):
    for reading in apps.get_model("sources", "Reading").objects.exclude(draws=[]):
        parts = [
            Part(
                title=draw.get("title", ""),
                draw=Draw(pool=draw["pool"], pick=draw["pick"]),
                points_each=draw.get("points_each"),
            )
            for draw in reading.draws
        ]
        reading.quizzes = [Quiz(id="q1", title=reading.title, parts=parts).model_dump(mode="json")]
        reading.save(update_fields=["quizzes"])


def _as_read(row, changes):
    """The body as it was read: as it was before the first change of it."""
    for change in changes.filter(table="readingitem", row=row.pk).order_by("id"):
        if change.before and "body" in change.before:
            return change.before["body"]
    return row.body


def _picture(ref):
    """The hash in the address of a picture, by which it is known while a source is read."""
    found = _SHA.search(ref)
    return found[0] if found else ref


def made_anew(apps, _schema):
    items, changes = apps.get_model("sources", "ReadingItem").objects, apps.get_model("courses", "Change").objects
    batch = []
    for row in items.select_related("reading").iterator(chunk_size=BATCH):
        item = item_from(_as_read(row, changes) if row.edited else row.body)
        passage = row.reading.stimuli.get(item.stimulus or "", {}).get("content", "")
        row.read_digest = identity_of(item, passage, _picture).whole
        batch.append(row)
        if len(batch) == BATCH:
            items.bulk_update(batch, ["read_digest"])
            batch = []
    items.bulk_update(batch, ["read_digest"])


class Migration(migrations.Migration):
    dependencies = [("sources", "0002_reading_columns_source_options"), ("courses", "0002_course_columns")]

    operations = [
        migrations.AddField("reading", "quizzes", models.JSONField(default=list)),
        migrations.RunPython(quizzes_of_draws, migrations.RunPython.noop),
        migrations.RemoveField("reading", "draws"),
        migrations.RunPython(made_anew, migrations.RunPython.noop),
    ]
