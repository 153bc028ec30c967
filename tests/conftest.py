"""What all tests share: a data folder of their own, set before Django reads its settings."""

import os
import tempfile

os.environ["ROGATUM_DATA"] = tempfile.mkdtemp(prefix="rogatum-test-")
os.environ["ROGATUM_DEMO"] = "1"
# Playwright's own loop runs in the test's thread; Django would refuse to touch the database there.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
