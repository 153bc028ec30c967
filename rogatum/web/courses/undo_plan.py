"""What putting an operation back would do to each of its rows, and what of others' work stands in the way of which.

It is found out without keeping anybody from writing; who puts back asks again.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from django.db.models import BooleanField, ExpressionWrapper, Q

from rogatum.web.courses.history import BATCH, in_parts
from rogatum.web.courses.models import Change, Operation
from rogatum.web.courses.recorded import (
    LOOSE,
    POINTERS,
    TABLES,
    holders_of,
    left_behind,
    lying_in,
    model_of,
)
from rogatum.web.errors import NotPossible

Kind = Literal["changed", "made", "gone"]
Row = tuple[str, int]
ORDER = list(TABLES)


@dataclass(frozen=True)
class Obstacle:
    """What stands in the way of putting a row back, in words; and the later operation that did it, where there is one."""

    fact: str
    operation: Operation | None = None
    # Whether it is only that something else in the way lies in it.
    held: bool = False


@dataclass
class Plan:
    """What putting an operation back would do to each of its rows in the end, and what stands in the way of which."""

    operation: Operation
    kinds: dict[Row, Kind]
    # The number of the last change of each row; and the values before of the columns by which rows lie in others.
    last: dict[Row, int]
    homes: dict[tuple[str, str], dict[int, int | None]]
    obstacles: dict[Row, Obstacle] = field(default_factory=dict)

    def rows(self, kind: Kind) -> Iterator[Row]:
        return (row for row, its in self.kinds.items() if its == kind and row not in self.obstacles)

    def keys(self, kind: Kind, table: str) -> list[int]:
        return [key for name, key in self.rows(kind) if name == table]

    @property
    def free(self) -> list[Row]:
        return [row for row in self.kinds if row not in self.obstacles]


def plan_of(operation: Operation) -> Plan:
    """What putting back would do, and what stands in its way now."""
    plan = Plan(operation, *_net(operation), _homes(operation))
    _find_overtaken(plan)
    _find_left_behind(plan)
    while _find_held(plan) or _find_homeless(plan):
        pass
    _find_pointing(plan)
    return plan


def _net(operation: Operation) -> tuple[dict[Row, Kind], dict[Row, int]]:
    kinds: dict[Row, Kind] = {}
    last: dict[Row, int] = {}
    first: dict[Row, bool] = {}
    rows = operation.changes.filter(undone=False).annotate(was=_there("before"), stays=_there("after"))
    rows = rows.order_by("pk").values_list("pk", "table", "row", "was", "stays")
    for key, table, number, was_there, is_there in rows.iterator(chunk_size=BATCH):
        row = (table, number)
        first.setdefault(row, was_there)
        last[row] = key
        kinds.pop(row, None)
        if first[row] and is_there:
            kinds[row] = "changed"
        elif first[row]:
            kinds[row] = "gone"
        elif is_there:
            kinds[row] = "made"
    return kinds, last


def _there(side: str) -> ExpressionWrapper:
    return ExpressionWrapper(Q(**{f"{side}__isnull": False}), BooleanField())


def _homes(operation: Operation) -> dict[tuple[str, str], dict[int, int | None]]:
    """In what the rows of an operation lay before it, for those that it moved or deleted."""
    found: dict[tuple[str, str], dict[int, int | None]] = {}
    for table in operation.changes.order_by().values_list("table", flat=True).distinct():
        for _, column, _holder in holders_of(table):
            named = operation.changes.filter(table=table, undone=False, before__has_key=column).order_by("pk")
            homes = found[table, column] = {}
            for row, value in named.values_list("row", f"before__{column}"):
                homes.setdefault(row, value)
    return found


def _by_table(rows: Iterable[Row]) -> dict[str, list[int]]:
    found: dict[str, list[int]] = {}
    for table, key in rows:
        found.setdefault(table, []).append(key)
    return found


def later_on(plan: Plan, rows: Iterable[Row]) -> dict[Row, Operation]:
    """The last operation that changed each of some rows after the one that is put back, where there is one."""
    found: dict[Row, Operation] = {}
    for table, keys in _by_table(rows).items():
        for part in in_parts(keys, BATCH):
            changes = Change.objects.filter(table=table, row__in=part, undone=False).exclude(operation=plan.operation)
            for change in changes.select_related("operation__user").defer("before", "after").order_by("pk"):
                if change.pk > plan.last.get((table, change.row), 0):
                    found[table, change.row] = change.operation
    return found


def _find_overtaken(plan: Plan) -> None:
    for (table, key), operation in later_on(plan, plan.kinds).items():
        plan.obstacles[table, key] = Obstacle(f"the same {_WORDS[table]} was changed since", operation)


def _find_left_behind(plan: Plan) -> None:
    """What was changed and is not there any more, or is there for nobody: putting it back would do nothing."""
    for table, keys in _by_table(plan.rows("changed")).items():
        pointing = {column for name, column in POINTERS if name == table}
        for part in in_parts(keys, BATCH):
            there = set(model_of(table)._base_manager.filter(pk__in=part).values_list("pk", flat=True))
            lost = (set(part) - there) | left_behind(table, part)
            for column in pointing:
                lost -= set(
                    plan.operation.changes.filter(table=table, row__in=part, before__has_key=column).values_list("row", flat=True)
                )
            for key in lost:
                plan.obstacles[table, key] = Obstacle(
                    f"the {_WORDS[table]} that it changed is there no more, or was read anew since"
                )


def _find_held(plan: Plan) -> bool:
    """Marks what was made and holds what stays; returns whether any was found."""
    found = False
    for table in {name for name, _ in plan.rows("made")}:
        for part in in_parts(plan.keys("made", table), BATCH):
            for holder, held in staying(plan, table, part):
                plan.obstacles.setdefault((table, holder), held_obstacle(plan, table, held))
                found = True
    return found


def staying(plan: Plan, table: str, keys: Collection[int]) -> Iterator[tuple[int, Row]]:
    """What lies in some rows that were made and would stay when they go: (the row that holds it, what is held)."""
    for name, column, _ in lying_in(table):
        if name in LOOSE:
            continue
        moved = plan.homes.get((name, column), {})
        for key, holder in model_of(name)._base_manager.filter(**{f"{column}__in": keys}).values_list("pk", column):
            row = (name, key)
            free = row not in plan.obstacles and row in plan.kinds
            goes = free and (plan.kinds[row] == "made" or (plan.kinds[row] == "changed" and moved.get(key, holder) != holder))
            if not goes:
                yield holder, row


def held_obstacle(plan: Plan, table: str, held: Row) -> Obstacle:
    by = plan.obstacles[held].operation if held in plan.obstacles else later_on(plan, [held]).get(held)
    return Obstacle(f"the {_WORDS[table]} that it made holds what came there since", by, held=True)


def _find_homeless(plan: Plan) -> bool:
    """Marks what would be put back into what is there no more; returns whether any was found. A pool can lie at the top instead."""
    found = False
    for (table, column), homes in plan.homes.items():
        holder = next(lying.holder for lying in holders_of(table) if lying.column == column)
        if (table, holder) == ("pool", "pool"):
            continue
        wanted = {key: home for key, home in homes.items() if home is not None and _goes_back(plan, (table, key))}
        there = {key for name, key in plan.rows("gone") if name == holder}
        for part in in_parts(set(wanted.values()) - there, BATCH):
            there |= set(model_of(holder)._base_manager.filter(pk__in=part).values_list("pk", flat=True))
        for key, home in wanted.items():
            if home not in there:
                plan.obstacles[table, key] = Obstacle(f"the {_WORDS[holder]} that it lay in is no longer there")
                found = True
    return found


def _find_pointing(plan: Plan) -> None:
    """What says where something went goes on to say so where that stays."""
    for (table, column), named in POINTERS.items():
        held = {key: obstacle for (name, key), obstacle in plan.obstacles.items() if name == named}
        stay = {key: obstacle for key, obstacle in held.items() if plan.kinds[named, key] == "made"}
        if not stay:
            continue
        pointing = plan.operation.changes.filter(table=table, undone=False, after__has_key=column)
        for row, key in pointing.values_list("row", f"after__{column}"):
            if key in stay and (table, row) in plan.kinds:
                plan.obstacles.setdefault((table, row), stay[key])


def _goes_back(plan: Plan, row: Row) -> bool:
    return plan.kinds.get(row) in ("changed", "gone") and row not in plan.obstacles


# What a person calls the rows of a table.
_WORDS = {
    "course": "course",
    "section": "section",
    "pool": "pool",
    "item": "item",
    "likepair": "pair",
    "source": "source",
    "reading": "reading",
    "readingitem": "item",
    "quiz": "quiz",
    "rehearsal": "trial",
    "part": "part",
    "partitem": "item of a quiz",
    "wording": "wording",
}


def refuse(plan: Plan, user: Any) -> None:
    """Raises NotPossible where something stands in the way: what it is, whose, and how much can be put back all the same."""
    if not plan.kinds:
        raise NotPossible("Nothing of this is left to undo.", "Look at what was done before it.")
    if not plan.obstacles:
        return
    label, rest = plan.operation.label, len(plan.free)
    first = min(
        plan.obstacles.items(), key=lambda entry: (entry[1].operation is None, entry[1].held, ORDER.index(entry[0][0]), entry[0][1])
    )
    obstacle = first[1]
    fact = f"“{label}” cannot be undone: {obstacle.fact}"
    way_out = "Undo what nobody touched since." if rest else "Change by hand what is there now."
    if obstacle.operation is not None:
        whose = obstacle.operation.by or obstacle.operation.user.get_username()
        mine = obstacle.operation.user_id == user.pk and not obstacle.operation.by
        fact += f", by {'your own' if mine else f'{whose}’s'} “{obstacle.operation.label}”"
        asked = f"Undo “{obstacle.operation.label}” first" if mine else f"Ask {whose} to undo that first"
        way_out = f"{asked}{', or undo only what nobody touched since' if rest else ''}."
    error = NotPossible(f"{fact}.", way_out)
    error.problem.rest = rest
    raise error
