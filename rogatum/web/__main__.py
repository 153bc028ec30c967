"""`python -m rogatum.web COMMAND`: Django's management commands and `serve`."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rogatum.web.settings")
execute_from_command_line(["rogatum.web", *sys.argv[1:]])
