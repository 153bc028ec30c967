"""What each setting of a quiz is called in a ledger."""

from __future__ import annotations

SETTING_WORDS: dict[str, str] = {
    "opens": "When it opens",
    "due": "When it is due",
    "closes": "When it closes",
    "late": "What happens to late work",
    "late_deduction": "What a late day costs",
    "sections": "The dates of sections",
    "exceptions": "The exceptions for students",
    "attempts": "The number of attempts",
    "counts": "Which attempt counts",
    "pause": "The pause between attempts",
    "time_limit": "The time limit",
    "time_up": "What happens when time is up",
    "one_sitting": "Whether it is made in one sitting",
    "access_code": "The access code",
    "out_of": "The total that is announced",
    "shown": "How many items are shown at once",
    "navigation": "The way through the items",
    "submission": "When responses are handed in",
    "skipping": "Whether items may be skipped",
    "shuffle_parts": "The order of the parts",
    "shuffle_items": "The order of the items",
    "shuffle_choices": "The order of the choices",
    "show_marks": "When marks are shown",
    "show_responses": "When responses may be looked at again",
    "show_right": "When it is shown which were right",
    "show_key": "When the key is shown",
    "show_feedback": "When feedback is shown",
    "feedback": "What is said at the end",
}
