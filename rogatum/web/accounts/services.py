"""Signing in and changing a password: throttled, and never saying which of name and password was wrong."""

from __future__ import annotations

import logging

from django.contrib.auth import authenticate, login, update_session_auth_hash
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest

from rogatum.web.accounts.throttling import address, note_failure, note_success, refuse_too_many, turn_to_hash
from rogatum.web.errors import NotPossible

log = logging.getLogger(__name__)


def sign_in(request: HttpRequest, name: str, password: str) -> None:
    """Signs in under a new session. Raises NotPossible."""
    user = _checked(request, name, password, "This name and password do not belong together.", "Check both and try again.")
    login(request, user)
    log.info("%r signed in from %s", user.get_username(), address(request))


def change_password(request: HttpRequest, user: User, old: str, new: str) -> None:
    """Sets a new password: this session goes on under a new key, all others of the account end. Raises NotPossible."""
    _checked(request, user.get_username(), old, "This is not your password.", "Type in the one that you sign in with.")
    try:
        validate_password(new, user)
    except ValidationError as error:
        raise NotPossible(" ".join(error.messages), "Choose another one.", status=422) from None
    with turn_to_hash():
        user.set_password(new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    log.info("%r changed the password from %s", user.get_username(), address(request))


def _checked(request: HttpRequest, name: str, password: str, fact: str, way_out: str) -> User:
    refuse_too_many(request, name)
    with turn_to_hash():
        user = authenticate(request, username=name, password=password)
    if not isinstance(user, User):
        note_failure(request, name)
        # A name that is none of ours may be a password in the wrong field: it does not go into a log.
        known = repr(name) if User.objects.filter(username=name).exists() else "an unknown name"
        log.warning("%s was refused from %s", known, address(request))
        raise NotPossible(fact, way_out, status=403)
    note_success(name)
    return user
