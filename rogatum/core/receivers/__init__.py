"""Receivers: places that questions are handed on to, what each does to them, and the forecast of that."""
