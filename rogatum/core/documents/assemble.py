"""Items from drafts: the document's habits, the keys, what belongs together, and the findings of all that."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

from rogatum.core.documents.drafts import Draft, Drafted, make_drafts, take_brackets, take_wrapped_points
from rogatum.core.documents.inference import infer, points_behind
from rogatum.core.documents.keys.brackets import ends_with_keys, key_at_end
from rogatum.core.documents.keys.emphasis import EmphasisHabit, count_of_marks, emphasis_habit, stated_habit
from rogatum.core.documents.keys.entries import number_name
from rogatum.core.documents.keys.lists import heading_name
from rogatum.core.documents.keys.marks import signed
from rogatum.core.documents.keys.values import truth_of
from rogatum.core.documents.languages import stem_languages, translations
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line
from rogatum.core.documents.making import Case, item_of, matching_of
from rogatum.core.documents.matching import Grouped, group_matches
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.findings.items import READ_OTHERWISE
from rogatum.core.findings.keys import KEY_HABIT, KEY_WITHOUT_ITEM
from rogatum.core.findings.numbering import (
    ITEM_TRANSLATED,
    NUMBER_DOUBLE,
    NUMBER_GAP,
    NUMBER_RESTART,
    NUMBERS_ABSENT,
    POINTS_UNSHARED,
    STEM_BILINGUAL,
)
from rogatum.core.items import Item, Matching, Stimulus


@dataclass
class Assembled:
    """Items with their drafts, passages, findings without and with items, and the lines that nothing claimed."""

    title: str = ""
    items: list[tuple[Item, Draft]] = field(default_factory=list)
    stimuli: list[Stimulus] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    unclaimed: list[Line] = field(default_factory=list)
    claimed: int = 0
    lines: list[Line] = field(default_factory=list)


Content = Callable[[str], str]
# An entry of a list of keys: its line, its number, its key.
Keyed = tuple[Line, str, str]


def assemble(
    lines: list[Line],
    name_item: Callable[[int], str],
    content: Content,
    begin: Callable[[str, str], None] = lambda _where, _item: None,
    key_habit: str = "",
    numbered: bool = True,
) -> Assembled:
    """Makes items of lines with roles. `name_item` gives the id of the item at a position.

    `content` makes canonical content; `begin` is told the place and the id of the item whose content comes next.
    `key_habit` is the emphasis that shows the key, where a person says so.
    """
    drafted = make_drafts(lines)
    _unused_pools(drafted)
    result = Assembled(
        drafted.title, findings=_outside(drafted, name_item), claimed=drafted.claimed, unclaimed=drafted.unclaimed, lines=lines
    )
    if not drafted.drafts:
        return _nothing_claimed(lines, result)
    for draft in drafted.drafts:
        take_wrapped_points(draft)
    _key_list(lines, drafted.drafts, name_item, result)
    infer(drafted.drafts)
    habit = _key_habits(drafted.drafts, result, key_habit)
    # A key in brackets may stand behind the points.
    points_behind(drafted.drafts)
    if numbered:
        _numbering(drafted.drafts, name_item, result)
    else:
        result.findings.append(NUMBERS_ABSENT.at("", count=len(drafted.drafts)))
    _languages(drafted.drafts, name_item, result)
    _passages(drafted, content, result)
    groups = group_matches(drafted.drafts)
    lone = _marks_several_once(drafted.drafts, habit)
    positions = {id(draft): position for position, draft in enumerate(drafted.drafts)}
    for group in groups:
        draft = group.drafts[0]
        item_id = name_item(positions[id(draft)])
        begin(draft.where, item_id)
        case = Case(draft, item_id, result.findings, content, habit, numbered, lone)
        draft.last = group.drafts[-1].last
        if draft.first.other is not None:
            said = draft.first.other
            doubt = READ_OTHERWISE.at(draft.where, item_id, now=said.now[:160], then=said.then[:160])
            doubt.other = said
            result.findings.append(doubt)
        result.items.append((matching_of(case, group) if len(group.drafts) > 1 else item_of(case), draft))
    _section_points(groups, result)
    return result


def _has_its_own(draft: Draft) -> bool:
    return bool(draft.choices or draft.truths) or any(truth_of(key) is not None for key in draft.keys)


def _unused_pools(drafted: Drafted) -> None:
    """Choices for the questions of a section that need none belong to none of them: a question was not seen there."""
    waiting = {id(draft.section) for draft in drafted.drafts if not _has_its_own(draft)}
    told: set[int] = set()
    for line, section, before in drafted.pooled:
        if id(section) in waiting:
            continue
        line.role = "outside"
        section.pool.clear()
        # Choices side by side share a line; it is told once.
        if line.number not in told:
            told.add(line.number)
            drafted.claimed -= 1
            drafted.leave_out(line, before)


def _outside(drafted: Drafted, name_item: Callable[[int], str]) -> list[Finding]:
    """A line that belongs to nothing is queried at the item above it, which it may be a part of."""
    for finding, before in drafted.findings:
        if before and len(drafted.drafts) >= before:
            finding.item = name_item(before - 1)
    return [finding for finding, _ in drafted.findings]


def _nothing_claimed(lines: list[Line], result: Assembled) -> Assembled:
    """A text without a question: no line of it became anything."""
    return Assembled(title=result.title, unclaimed=[line for line in lines if line.role != "blank"], lines=lines)


def _key_habits(drafts: list[Draft], result: Assembled, stated: str) -> EmphasisHabit | None:
    """How the document shows its keys, where it is not by words: emphasis of choices, or a letter at the end of the stem."""
    asked = [draft for draft in drafts if draft.choices or draft.truths]
    ends = [draft.stem[-1] for draft in asked if draft.stem and draft.choices]
    if ends_with_keys(ends):
        for draft in drafts:
            found = key_at_end(draft.stem[-1]) if draft.stem and not draft.keys else None
            if found is not None:
                draft.keys.append(found[0])
                draft.stem[-1].keep(draft.stem[-1].start, found[1])
                take_brackets(draft, draft.stem[-1])
                take_wrapped_points(draft)
    keyed = sum(1 for draft in asked if draft.keys or signed([first for first, *_ in draft.choices]))
    options = [[first for first, *_ in draft.choices] or draft.truths for draft in asked]
    habit = emphasis_habit(options, keyed) if not stated else stated_habit(options, stated)
    if habit is not None:
        result.findings.append(KEY_HABIT.at("", habit=habit.name, items=habit.items, of=habit.of, without=habit.of - habit.items))
    return habit


def _marks_several_once(drafts: list[Draft], habit: EmphasisHabit | None) -> bool:
    """Whether one question alone marks several of its choices, where others mark one: it may be a slip."""
    marks = [count_of_marks([first for first, *_ in draft.choices], habit) for draft in drafts]
    return 1 in marks and sum(count > 1 for count in marks) == 1


def _key_list(lines: list[Line], drafts: list[Draft], name_item: Callable[[int], str], result: Assembled) -> None:
    """Gives each key of a list to the next item of its number, so that numbering may restart."""
    position = 0
    parts = _parts(drafts)
    for heading, entries in _groups_of_keys([line for line in lines if line.role == "key list"]):
        position = parts.get(heading_name(heading), position)
        last: tuple[Line, int] | None = None
        for source, number, key in entries:
            name = number_name(number)
            order = [*range(position, len(drafts)), *range(position)]
            hit = next((i for i in order if drafts[i].name == name), None)
            if hit is None:
                # The line may be the key of one item, which has several parts.
                owner = name_item(last[1]) if last and last[0] is source else None
                result.findings.append(KEY_WITHOUT_ITEM.at(source.where or f"line {source.number}", owner, number=number))
                continue
            drafts[hit].keys.append(key)
            last, position = (source, hit), hit + 1


def _groups_of_keys(lines: list[Line]) -> list[tuple[str, list[Keyed]]]:
    """The entries of a list below each of its headings: their lines, numbers and keys; those in columns by their numbers."""
    groups: list[tuple[str, list[Keyed]]] = [("", [])]
    for line in lines:
        if not line.entries:
            groups.append((line.text, []))
        groups[-1][1].extend((line, number, key) for number, key in line.entries)
    for _, entries in groups:
        names = [number_name(number) for _, number, _ in entries]
        if len(set(names)) == len(names) and all(map(str.isdigit, names)):
            entries.sort(key=lambda entry: int(number_name(entry[1])))
    return groups


def _parts(drafts: list[Draft]) -> dict[str, int]:
    """The position of the first draft below each heading."""
    found: dict[str, int] = {}
    for position, draft in enumerate(drafts):
        for name in [*(line.text for line in draft.section.heading), *draft.path]:
            found.setdefault(heading_name(name), position)
    return found


def _numbering(drafts: list[Draft], name_item: Callable[[int], str], result: Assembled) -> None:
    for position, (before, draft) in enumerate(zip(drafts, drafts[1:], strict=False), 1):
        kind: FindingKind | None = None
        if draft.number == before.number:
            kind = NUMBER_DOUBLE
        elif draft.number > before.number + 1:
            kind = NUMBER_GAP
        elif draft.number <= before.number:
            kind = NUMBER_RESTART
        if kind is not None:
            values = {"before": before.number, "after": draft.number, "number": draft.number}
            result.findings.append(kind.at(draft.where, name_item(position), **values))


def _languages(drafts: list[Draft], name_item: Callable[[int], str], result: Assembled) -> None:
    """Questions that stand in two languages, within one stem or one after another."""
    for position, draft in enumerate(drafts):
        if spoken := stem_languages(draft):
            result.findings.append(STEM_BILINGUAL.at(draft.where, name_item(position), languages=" and ".join(spoken)))
    for position, before, language in translations(drafts):
        found = ITEM_TRANSLATED.at(drafts[position].where, name_item(position), other=drafts[before].where, language=language)
        result.findings.append(found)


def _section_points(groups: list[Grouped], result: Assembled) -> None:
    """Points that a section has in all: its one item has them; how several share them is not guessed."""
    counts = Counter(id(group.drafts[0].section) for group in groups)
    for item, draft in result.items:
        worth = draft.section.points_all
        if worth is None or item.points is not None or isinstance(item, Matching):
            continue
        count = counts[id(draft.section)]
        if count == 1:
            item.points = worth
        else:
            result.findings.append(POINTS_UNSHARED.at(draft.where, item.id, points=f"{worth:g}", count=count))


def _passages(drafted: Drafted, content: Content, result: Assembled) -> None:
    """Shared passages become stimuli of the questions that they name, counted from where the passage stands."""
    for passage in drafted.passages:
        lines = passage.lines[1:] or passage.lines
        markup = content(content_of(lines))
        stimulus = Stimulus(id=f"s{len(result.stimuli) + 1}", content=markup)
        after = passage.lines[-1].number
        hits = [d for d in drafted.drafts if passage.first <= d.number <= passage.last and d.first.number > after]
        hits = hits[: passage.last - passage.first + 1] or [d for d in drafted.drafts if passage.first <= d.number <= passage.last]
        for draft in hits:
            draft.stimulus = stimulus.id
        if hits:
            result.stimuli.append(stimulus)
