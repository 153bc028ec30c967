"""`python -m rogatum.demo`: loads the demo course into the data folder, once."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rogatum.web.settings")
os.environ["ROGATUM_JOBS"] = "immediate"
django.setup()

from rogatum.demo.loader import load_demo  # noqa: E402

load_demo()
