"""Languages told by small words: told where they tell, and left open where they do not."""

from __future__ import annotations

import pytest

from rogatum.core.documents.languages import language_of


@pytest.mark.parametrize(
    ("text", "language"),
    [
        ("What is the smallest particle of the soil?", "English"),
        ("¿Cuál es la partícula más pequeña del suelo?", "Spanish"),
        ("Quelle est la plus petite particule du sol ?", "French"),
        ("Welches ist das kleinste Korn und welche nicht?", "German"),
        ("Quale è la più piccola delle particelle secondo il testo?", "Italian"),
        ("Qual é a menor das partículas segundo o texto?", "Portuguese"),
        ("Welke van deze deeltjes zijn het kleinst?", "Dutch"),
        ("", ""),
        ("clay", ""),
        ("n = 1 - 2", ""),
        ("Rendzina, Podzol, Gley", ""),
    ],
)
def test_languages(text, language):
    assert language_of(text) == language
