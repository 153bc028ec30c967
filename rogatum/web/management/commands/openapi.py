"""`openapi PATH`: writes the API's schema, from which the front end's types are made."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from rogatum.web.api import api


def schema_text() -> str:
    return json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n"


class Command(BaseCommand):
    help = "Writes the OpenAPI schema."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("path", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        options["path"].write_text(schema_text())
