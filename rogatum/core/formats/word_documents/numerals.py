"""Numbers as lists of documents show them: figures, letters, Roman numerals."""

from __future__ import annotations

from rogatum.core.documents.labels import letter, roman

_LETTERS = 26
# A source may say any number; beyond this one letters and Roman numerals are of no use, and long.
MOST = 3999


def numeral(number: int, system: str, repeated: bool = False) -> str:
    """A number in a system that its first numeral names: 1, a, A, i or I. Others, and numbers beyond `MOST`, are in figures.

    Behind z comes aa, ab (HTML; OpenDocument without `num-letter-sync`), or aa, bb where letters are `repeated` (ECMA-376 part 1,
    section 17.18.59). What has no numeral in a system, as 0 among letters, is empty.
    """
    if number > MOST:
        found = str(number)
    elif system.lower() == "a":
        found = _repeated(number) if repeated else _letters(number)
    elif system.lower() == "i":
        found = roman(number)
    else:
        found = str(number)
    return found.upper() if system.isupper() else found


def _letters(number: int) -> str:
    found = ""
    while number > 0:
        number, place = divmod(number - 1, _LETTERS)
        found = letter(place + 1) + found
    return found


def _repeated(number: int) -> str:
    times, place = divmod(number - 1, _LETTERS)
    return letter(place + 1) * (times + 1) if number > 0 else ""
