"""Starting on what is there: an empty folder, an older database, one of a newer program."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from rogatum.web.starting import check_data_folder, secret_key

ROOT = Path(__file__).parent.parent.parent
# On an empty folder, on an older database, and on its own: what is told each time.
UPGRADES = """
import json
from django.core.management import call_command
from rogatum.web.upgrading import bring_up_to_date
told = [bring_up_to_date()]
call_command("migrate", "jobs", "0001", verbosity=0)
told += [bring_up_to_date(), bring_up_to_date()]
print(json.dumps(told))
"""


def manage(data: Path, *words: str, check: bool = True) -> subprocess.CompletedProcess[str]:
    environment = os.environ | {"ROGATUM_DATA": str(data)}
    return subprocess.run(
        [sys.executable, "-m", "rogatum.web", *words], cwd=ROOT, env=environment, capture_output=True, text=True, check=check
    )


def test_an_empty_folder_an_older_and_a_newer_database(tmp_path):
    made, upgraded, as_it_was = json.loads(manage(tmp_path, "shell", "-v", "0", "-c", UPGRADES).stdout.splitlines()[-1])
    [copy] = tmp_path.glob("rogatum-before-*.sqlite3")
    assert "Made a new database" in made and copy.name in upgraded and not as_it_was
    assert copy.stat().st_mode & 0o077 == 0
    with closing(sqlite3.connect(copy)) as older, closing(sqlite3.connect(tmp_path / "rogatum.sqlite3")) as newer:
        columns = [[row[1] for row in database.execute("PRAGMA table_info(jobs_job)")] for database in (older, newer)]
    assert "beat" in columns[0] and "worker" in columns[1]
    with closing(sqlite3.connect(tmp_path / "rogatum.sqlite3")) as database, database:
        database.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('jobs', '0099_later', '2030-01-01')")
    refused = manage(tmp_path, "serve", "--port", "1", check=False)
    assert refused.returncode and "newer" in refused.stderr and "Traceback" not in refused.stderr


def test_the_key_of_an_installation_is_made_once_and_is_nobody_elses(tmp_path):
    folder = tmp_path / "data"
    made = {secret_key(folder) for _ in range(3)}
    assert len(made) == 1 and len(made.pop()) >= 50
    assert [path.name for path in folder.iterdir()] == ["secret-key"]
    assert (folder / "secret-key").stat().st_mode & 0o777 == 0o600


def test_a_data_folder_that_is_not_right_is_told_at_the_start(tmp_path, settings):
    settings.DATA = tmp_path
    assert check_data_folder() == []
    secret_key(tmp_path)
    (tmp_path / "secret-key").chmod(0o644)
    assert [(found.id, bool(found.hint)) for found in check_data_folder()] == [("rogatum.W001", True)]
    settings.DATA = tmp_path / "not there"
    assert [(found.id, bool(found.hint)) for found in check_data_folder()] == [("rogatum.E001", True)]


@pytest.mark.parametrize("https", ["0", "1"])
def test_the_settings_are_those_of_a_deployment(tmp_path, https):
    environment = os.environ | {"ROGATUM_DATA": str(tmp_path), "ROGATUM_HTTPS": https}
    environment.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # set by these tests for the browser's sake
    words = [sys.executable, "-m", "rogatum.web", "check", *(["--deploy", "--fail-level", "WARNING"] if https == "1" else [])]
    done = subprocess.run(words, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
