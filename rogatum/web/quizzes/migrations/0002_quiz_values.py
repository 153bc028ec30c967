"""A quiz is a value of the core: what is not said is absent, any number of attempts is 0, single items may have points of their own."""

from django.db import migrations, models


def said_alone(apps, _schema):
    for quiz in apps.get_model("quizzes", "Quiz").objects.all():
        settings = {"attempts": 1} | quiz.settings
        if settings["attempts"] is None:
            settings["attempts"] = 0
        quiz.settings = {name: value for name, value in settings.items() if value is not None}
        quiz.save(update_fields=["settings"])


class Migration(migrations.Migration):
    dependencies = [("quizzes", "0001_initial")]

    operations = [
        migrations.AddField("part", "points", models.JSONField(default=dict)),
        migrations.RunPython(said_alone, migrations.RunPython.noop),
    ]
