# A part's title is read by students: what the program itself put there, names of pools and “Fixed items”, goes.

from django.db import migrations


def clear(apps, _editor):
    parts = apps.get_model("quizzes", "Part").objects
    parts.filter(title="Fixed items").update(title="")
    for part in parts.filter(kind="draw").exclude(title="").select_related("pool", "quiz__course").iterator():
        if part.title == (part.pool.name if part.pool else part.quiz.course.name):
            parts.filter(pk=part.pk).update(title="")
    for part in parts.exclude(title="").filter(picked_from__isnull=False).iterator():
        pool = ((part.picked_from or {}).get("pool") or ["the course"])[-1]
        if part.title == pool or part.title.startswith(f"{pool}: "):
            parts.filter(pk=part.pk).update(title="")


class Migration(migrations.Migration):
    dependencies = [("quizzes", "0003_whole_quizzes")]

    operations = [migrations.RunPython(clear, migrations.RunPython.noop)]
