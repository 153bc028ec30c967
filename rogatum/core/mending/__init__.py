"""Repairs that a person puts in words of their own: for many items at once, looked at before they are made."""

from rogatum.core.mending.numbers import Subject
from rogatum.core.mending.plan import Change, Plan, plan
from rogatum.core.mending.wishes import Wish, wish_words

__all__ = ["Change", "Plan", "Subject", "Wish", "plan", "wish_words"]
