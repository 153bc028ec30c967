"""Of the key and how it marks."""

from __future__ import annotations

from rogatum.core.findings.catalogue import finding_kind

KEY_HABIT = finding_kind(
    "key-habit",
    "note",
    "The key is shown by {habit}: on {items} of {of} items with choices; {without} have none.",
    "Nothing to do where that is so; else correct the keys.",
)
NO_KEY = finding_kind(
    "no-key",
    "error",
    "No choice is marked correct.",
    "Mark the right choice, or make the item an essay.",
    "to-essay",
    by="item check",
)
NO_ANSWER = finding_kind(
    "no-answer",
    "error",
    "The item has no accepted answer.",
    "Type in the answer, or make the item an essay.",
    "to-essay",
    by="item check",
)
TWO_KEYS = finding_kind(
    "two-keys",
    "error",
    "{count} choices are marked correct on an item that takes one.",
    "Unmark the wrong ones, or make the item a multiple response.",
    "to-multiple-response",
    by="item check",
)
NO_KEY_FOUND = finding_kind(
    "no-key-found",
    "error",
    "The source does not say what is right: {detail}",
    "Set the key by hand.",
    settled_by="key",
)
TWO_RIGHT_VALUES = finding_kind(
    "two-right-values",
    "error",
    "The source declares {count} right responses where one is asked for: {values}.",
    "Mark the right one.",
    settled_by="key",
)
KEY_UNKNOWN = finding_kind(
    "key-unknown",
    "error",
    "The key names “{key}”, and there is no such choice.",
    "Mark the right choice, or look whether a choice is missing.",
    settled_by="key",
)
KEYS_DISAGREE = finding_kind(
    "keys-disagree",
    "error",
    "The item is keyed twice, and the keys differ: {first} and {second}.",
    "Choose the right one.",
    settled_by="key",
)
KEY_UNREAD = finding_kind(
    "key-unread",
    "error",
    "“{text}” is no number with a tolerance or a range.",
    "Type in the number that is right.",
)
KEYS_BESIDE = finding_kind(
    "keys-beside",
    "note",
    "Its keys were taken from {file}, which lists {count}.",
    "Nothing to do where that is the key of this test.",
)
KEYS_WITHOUT_TEST = finding_kind(
    "keys-without-test",
    "error",
    "{file} lists {count} keys, and it is not plain which test they are for.",
    "Read it together with its test alone, or join it to the test.",
)
KEY_WITHOUT_ITEM = finding_kind(
    "key-without-item",
    "warning",
    "The key list has an answer for number {number}, and there is no such question.",
    "Look whether a question was missed.",
)
SEVERAL_COMBINATIONS = finding_kind(
    "several-combinations",
    "warning",
    "The source accepts several different combinations of choices; the smallest was taken.",
    "Compare the key with the source.",
    settled_by="key",
)
MARKING_APPROXIMATED = finding_kind(
    "marking-approximated",
    "warning",
    "The source marks in a way that the item cannot hold exactly: {detail}",
    "Compare the marks with the source, and set the weights.",
    settled_by="key",
)
MARKING_UNDECIDED = finding_kind(
    "marking-undecided",
    "warning",
    "The source's marking uses {detail}, which cannot be decided.",
    "Set the key by hand.",
    settled_by="key",
)
MARKING_ASSUMED = finding_kind(
    "marking-assumed",
    "note",
    "The source names the right response and does not say what it earns.",
    "Set the points.",
)
