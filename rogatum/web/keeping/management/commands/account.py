"""`account add NAME` and `account password NAME`: the password is asked for, or read from standard input."""

import getpass
import sys
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    help = "Adds an account, or gives one a new password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("what", choices=["add", "password"])
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        name, there = options["name"], User.objects.filter(username=options["name"]).first()
        if options["what"] == "add" and there:
            raise CommandError(f"There is an account called {name} already. To give it a new password: account password {name}")
        if options["what"] == "password" and there is None:
            raise CommandError(f"There is no account called {name}. To make it: account add {name}")
        user = there or User(username=name)
        password = _asked()
        try:
            user.username = User._meta.get_field("username").clean(name, user)
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()
        self.stdout.write(f"{'Changed the password of' if there else 'Added'} {name}.")


def _asked() -> str:
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    password = getpass.getpass("Password: ")
    if password != getpass.getpass("Once more: "):
        raise CommandError("These are two different ones. Type it in once more.")
    return password
