"""Signing in and out, and the password."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.utils import check_csrf

from rogatum.web.accounts import services
from rogatum.web.accounts.schemas import DemoAccount, PasswordIn, SessionOut, SignIn
from rogatum.web.errors import NotPossible

router = Router()
DEMO_ACCOUNTS = (
    ("mara", "soil-and-water", "Mara Ellery, Soil Science 110"),
    ("tobin", "auger-and-rope", "Tobin Ashe, Field Methods 210"),
)


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
    # The path needs no account, so the framework does not ask for the token; a page of another site must not sign anyone in.
    if check_csrf(request) is not None:
        raise NotPossible("The page is too old for this.", "Load it again.", status=403)
    services.sign_in(request, body.name, body.password)
    return _session(request)


@router.put("/session/password", response=SessionOut, operation_id="session_password")
def change_password(request: HttpRequest, body: PasswordIn) -> SessionOut:
    services.change_password(request, request.user, body.old, body.new)  # type: ignore[arg-type]
    return _session(request)


@router.delete("/session", response=SessionOut, operation_id="session_sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return _session(request)
