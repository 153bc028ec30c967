"""Which feedback of a QTI 2.x or 3.0 item is whose: told from which responses show it, else from what it is called."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from rogatum.core.formats.qti2.body import Interaction
from rogatum.core.formats.qti2.processing import FeedbackRule, Processing
from rogatum.core.formats.shared.feedback import append_feedback, give_own, owners_of, shown_by_owner
from rogatum.core.formats.shared.keys import WRONG, Responses
from rogatum.core.items import ChoiceItem, Essay, Item, MultipleChoice, MultipleResponse, TrueFalse
from rogatum.core.quizzes.marking import Response as Answer

_WRONG_NAME = re.compile(r"in_?correct|wrong|false", re.I)
_RIGHT_NAME = re.compile(r"correct|right", re.I)
_SOLUTION_NAME = re.compile(r"solution|sample|model|example", re.I)
_HINT_NAME = re.compile(r"hint", re.I)


class FeedbackGiver:
    """Gives the feedback of one item to its slots. `key` is a right response, None where there is none."""

    def __init__(
        self, item: Item, processing: Processing, texts: dict[str, str], key: Responses | None, wrong: Sequence[Responses] = ()
    ) -> None:
        self.item, self.processing, self.texts, self.key, self.wrong = item, processing, texts, key, wrong

    def shown(self, responses: Responses) -> set[str]:
        return set(self.processing.run(responses).feedback)

    def give(self, asked: Interaction | None, given: Callable[[Answer], Responses] | None = None) -> None:
        """`asked` is the interaction whose choices may have feedback of their own; `given` makes a response of the model's."""
        owners: dict[str, list[str]] = {}
        if asked is not None:
            for option in asked.options:
                for ident in self.shown({asked.ident: [option.ident]}):
                    owners.setdefault(ident, []).append(option.ident)
        responses = list(self.processing.declared.responses)
        on_right = self.shown(self.key) if self.key is not None else set()
        on_wrong = self.shown({name: [WRONG] for name in responses}) | self.shown({})
        on_wrong = on_wrong.union(*map(self.shown, self.wrong))
        by_owner = shown_by_owner(self.item, lambda answer: self.shown(given(answer))) if given and self.texts else []
        for rule in self.processing.feedback:
            text = self.texts.get(rule.ident)
            if not text:
                continue
            own = owners_of(rule.ident, by_owner) if rule.ident not in on_wrong else []
            give_own(own, text)
            if not own:
                self._give_one(rule, text, owners.get(rule.ident, []), rule.ident in on_right, rule.ident in on_wrong, asked)

    def _give_one(
        self, rule: FeedbackRule, text: str, owners: list[str], right: bool, wrong: bool, asked: Interaction | None
    ) -> None:
        item, options = self.item, {option.ident for option in asked.options} if asked is not None else set()
        if isinstance(item, MultipleChoice | MultipleResponse | TrueFalse) and rule.value in options and not (right and wrong):
            self._to_choice(item, rule.value, text, asked)
        elif isinstance(item, Essay) and self._is_sample(rule, right or wrong):
            item.sample_answer = item.sample_answer or text
        elif self.key is None and len(owners) != 1:
            append_feedback(item, self._slot_by_name(rule.value), text)
        elif right and wrong:
            append_feedback(item, "general", text)
        elif right:
            append_feedback(item, "correct", text)
        elif wrong or (owners and len(owners) >= len(options) - 1):
            append_feedback(item, "incorrect", text)
        elif len(owners) == 1 and isinstance(item, MultipleChoice | MultipleResponse | TrueFalse):
            self._to_choice(item, owners[0], text, asked)
        elif _HINT_NAME.search(rule.value):
            item.metadata.setdefault("hint", []).append(text)
        else:
            append_feedback(item, self._slot_by_name(rule.value), text)

    @staticmethod
    def _is_sample(rule: FeedbackRule, shown: bool) -> bool:
        """Whether feedback of an essay is a sample answer: it is called so, or its outcome is and no response shows it."""
        return bool(_SOLUTION_NAME.search(rule.value) or (not shown and _SOLUTION_NAME.search(rule.outcome)))

    @staticmethod
    def _slot_by_name(name: str) -> str:
        if _WRONG_NAME.search(name):
            return "incorrect"
        return "correct" if _RIGHT_NAME.search(name) else "general"

    def _to_choice(self, item: ChoiceItem | TrueFalse, ident: str, text: str, asked: Interaction | None) -> None:
        if isinstance(item, TrueFalse):
            option = next((o for o in asked.options if o.ident == ident), None) if asked is not None else None
            item.choice_feedback["true" if option is not None and says_true(option.markup) else "false"] = text
            return
        for choice in item.choices:
            if choice.id == ident:
                choice.feedback = text if choice.feedback is None else f"{choice.feedback} {text}"


def says_true(markup: str) -> bool:
    return re.sub(r"<[^<>]+>|[\s.]", "", markup).lower() in ("true", "t")
