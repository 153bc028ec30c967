"""A quiz is a value of the core: what is not said is absent, any number of attempts is 0, single items may have points of their own."""

from django.db import migrations, models


# What every quiz began with; it was never asked for, and holds where nothing is said.
_BEGUN_WITH = {
    "attempts": 1,
    "counts": "best",
    "shuffle_items": False,
    "shuffle_choices": True,
    "release": "feedback",
    "release_when": "at once",
}


def said_alone(apps, _schema):
    for quiz in apps.get_model("quizzes", "Quiz").objects.all():
        settings = dict(quiz.settings)
        if "attempts" in settings and settings["attempts"] is None:
            settings["attempts"] = 0
        quiz.settings = {name: value for name, value in settings.items() if value not in (None, _BEGUN_WITH.get(name))}
        quiz.save(update_fields=["settings"])


class Migration(migrations.Migration):
    dependencies = [("quizzes", "0001_initial")]

    operations = [
        migrations.AddField("part", "points", models.JSONField(default=dict)),
        migrations.RunPython(said_alone, migrations.RunPython.noop),
    ]
