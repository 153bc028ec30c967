"""Signing in and out."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema

from rogatum.web.bounds import In, Name
from rogatum.web.errors import NotPossible

router = Router()
DEMO_ACCOUNTS = (
    ("mara", "soil-and-water", "Mara Ellery, Soil Science 110"),
    ("tobin", "auger-and-rope", "Tobin Ashe, Field Methods 210"),
)


class DemoAccount(Schema):
    name: str
    password: str
    about: str


class SessionOut(Schema):
    user: str | None
    demo_accounts: list[DemoAccount]


class SignIn(In):
    name: Name
    password: Name


def _session(request: HttpRequest) -> SessionOut:
    get_token(request)
    accounts = [DemoAccount(name=n, password=p, about=a) for n, p, a in DEMO_ACCOUNTS] if settings.DEMO else []
    user = request.user
    return SessionOut(user=user.get_username() if user.is_authenticated else None, demo_accounts=accounts)


@router.get("/session", response=SessionOut, auth=None, operation_id="session_get")
def session(request: HttpRequest) -> SessionOut:
    return _session(request)


@router.post("/session", response=SessionOut, auth=None, operation_id="session_sign_in")
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    user = authenticate(request, username=body.name, password=body.password)
    if user is None:
        raise NotPossible("This name and password do not belong together.", "Check both and try again.", status=403)
    login(request, user)
    return _session(request)


@router.delete("/session", response=SessionOut, operation_id="session_sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return _session(request)
