"""Which language a question is in, as far as its small words tell; and questions that stand twice, in two languages."""

from __future__ import annotations

import re
from collections.abc import Sequence

from rogatum.core.documents.drafts import Draft

FEWEST_WORDS = 2
_WORD = re.compile(r"[^\W\d_]+")
# Words that are common in one of these languages and rare or unknown in the others.
_SMALL_WORDS = {
    "English": "the of and is are which what following with not does to how when that this each true false statement",
    "Spanish": "el los las del qué cuál cuáles es son por para una con siguientes más según cómo verdadero falso",
    "French": "le les des du est sont quel quelle quels quelles dans pour une avec suivantes plus selon vrai faux lequel",
    "German": "der das die den dem des ist sind welche welcher welches und nicht mit eine einen folgenden wie richtig falsch",
    "Italian": "il gli della dello degli quale quali è sono per una con seguenti più secondo come vero falso",
    "Portuguese": "os as do da dos das qual quais é são por uma com seguintes mais segundo não verdadeiro falso",
    "Dutch": "het een de van welke zijn niet met volgende wat waar onwaar deze wordt",
}
_LANGUAGES_OF: dict[str, list[str]] = {}
for _language, _words in _SMALL_WORDS.items():
    for _word in _words.split():
        _LANGUAGES_OF.setdefault(_word, []).append(_language)


def language_of(text: str) -> str:
    """The language of a text, by name; empty where its small words do not tell."""
    votes: dict[str, float] = {}
    words = 0
    for word in _WORD.findall(text.casefold()):
        languages = _LANGUAGES_OF.get(word, [])
        words += bool(languages)
        for language in languages:
            votes[language] = votes.get(language, 0) + 1 / len(languages)
    ranked = sorted(votes.items(), key=lambda vote: -vote[1])
    if words < FEWEST_WORDS or (len(ranked) > 1 and ranked[0][1] < 1.5 * ranked[1][1]):
        return ""
    return ranked[0][0]


def stem_languages(draft: Draft) -> list[str]:
    """The languages of a stem's lines, where they are more than one."""
    if len(draft.stem) < 2:
        return []
    found = list(dict.fromkeys(language for line in draft.stem if (language := language_of(line.value))))
    return found if len(found) > 1 else []


def translations(drafts: Sequence[Draft]) -> list[tuple[int, int, str]]:
    """Questions of one number and as many choices in different languages, as (position, position before, language)."""
    alike: dict[tuple[int, int], list[int]] = {}
    for position, draft in enumerate(drafts):
        alike.setdefault((draft.number, len(draft.choices)), []).append(position)
    found: list[tuple[int, int, str]] = []
    for positions in alike.values():
        spoken = [_spoken(drafts[position]) if len(positions) > 1 else "" for position in positions]
        for n, (position, language) in enumerate(zip(positions, spoken, strict=True)):
            others = [before for before, other in zip(positions[:n], spoken, strict=False) if other not in ("", language)]
            if language and others:
                found.append((position, others[0], language))
    return sorted(found)


def _spoken(draft: Draft) -> str:
    return language_of(f"{draft.text} {' '.join(choice[0].value for choice in draft.choices)}")
