"""What goes in and out of the API of accounts."""

from __future__ import annotations

from ninja import Schema

from rogatum.web.bounds import In, Name


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


class PasswordIn(In):
    old: Name
    new: Name
