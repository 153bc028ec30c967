"""The lists that the core knows, in words: the interface types none of them again."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from rogatum.core.fidelity import FACETS, OWN_FACETS, QUIZ_FACET_WORDS, SEVERITY
from rogatum.core.finding import NEED_LOOK
from rogatum.core.findings.advice import ADVICE_WORDS
from rogatum.core.formats import FORMATS
from rogatum.core.formats.sheet.columns import MEANING_WORDS
from rogatum.core.items.metadata import LABELS
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.sources.options import KEY_HABITS

router = Router()


class Vocabulary(Schema):
    """Words by the names that the API uses; `facets` and `verdicts` in the order in which they are shown.

    `own_facets` are those that only the instructor sees.
    """

    types: dict[str, str]
    formats: dict[str, str]
    key_habits: dict[str, str]
    columns: dict[str, str]
    facets: list[str]
    own_facets: list[str]
    quiz_facets: dict[str, str]
    verdicts: list[str]
    levels_to_look_at: list[str]
    # The kinds of advice, the types that an item can be made into, and the labels of metadata that the model knows.
    advice: dict[str, str]
    types_to_make: list[str]
    metadata: dict[str, str]


@router.get("/words", response=Vocabulary, operation_id="words_get")
def get_words(request: HttpRequest) -> object:
    return Vocabulary(
        types=dict(TYPE_LABELS),
        formats={entry.name: entry.label for entry in FORMATS},
        key_habits=dict(KEY_HABITS),
        columns=MEANING_WORDS,
        facets=list(FACETS),
        own_facets=[facet for facet in FACETS if facet in OWN_FACETS],
        quiz_facets=QUIZ_FACET_WORDS,
        verdicts=list(SEVERITY),
        levels_to_look_at=list(NEED_LOOK),
        advice=ADVICE_WORDS,
        types_to_make=[name for name in TYPE_LABELS if name != "preserved"],
        metadata={label.name: label.shown for label in LABELS},
    )
