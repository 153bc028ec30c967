"""A data folder of its own for each process that tests, set before anything reads the settings: a plugin, loaded first of all."""

import os
import tempfile

os.environ["ROGATUM_DATA"] = tempfile.mkdtemp(prefix="rogatum-test-")
os.environ["ROGATUM_DEMO"] = "1"
# How long a lock is held depends on the machine: what is told of it must not turn up in what a test compares.
os.environ["ROGATUM_LOCK_TOLD"] = "3600"
# Playwright's own loop runs in the test's thread; Django would refuse to touch the database there.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
