"""Putting back what an operation did, and nothing that somebody did since.

First it is found out, without keeping anybody from writing, what would go back and what stands in the way of which of it; then it
is put back in short transactions, each of which asks again. What an operation changed or deleted goes back first, so that what lies
elsewhere again does not go with what the operation made; that goes last.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from django.db import IntegrityError, models, transaction
from django.db.models import BooleanField, ExpressionWrapper, Q

from rogatum.web.bulk import save_columns
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
    refreshed,
)
from rogatum.web.errors import NotPossible

# How many rows one short transaction puts back.
STEP = 100
Kind = Literal["changed", "made", "gone"]
Row = tuple[str, int]
ORDER = list(TABLES)
_BACK: tuple[Kind, ...] = ("changed", "gone")


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


def _later(plan: Plan, rows: Iterable[Row]) -> dict[Row, Operation]:
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
    for (table, key), operation in _later(plan, plan.kinds).items():
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
            for holder, held in _staying(plan, table, part):
                plan.obstacles.setdefault((table, holder), _held_obstacle(plan, table, held))
                found = True
    return found


def _staying(plan: Plan, table: str, keys: Collection[int]) -> Iterator[tuple[int, Row]]:
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


def _held_obstacle(plan: Plan, table: str, held: Row) -> Obstacle:
    by = plan.obstacles[held].operation if held in plan.obstacles else _later(plan, [held]).get(held)
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


# Putting back


@dataclass
class PutBack:
    """How many rows were put back, and how many stayed as they are."""

    done: int = 0
    left: int = 0


Between = Callable[[int, int], None]


@dataclass(frozen=True)
class _Step:
    """Rows of one kind and table that go back together; `rows` are they as they are to be, with the columns to save of each."""

    kind: Kind
    table: str
    keys: list[int]
    rows: dict[int, tuple[models.Model, list[str]]]


def put_back(plan: Plan) -> PutBack:
    """Puts back all that is free, in one transaction. Raises NotPossible where something came in its way meanwhile."""
    steps = list(_steps(plan))
    with transaction.atomic():
        _locked(plan.operation)
        for step in steps:
            if len(_still_free(plan, step)) < len(step.keys):
                raise NotPossible("Somebody changed some of this just now.", "Look at it, and undo it once more.")
            try:
                _write(plan, step, step.keys)
            except IntegrityError:
                fact = f"“{plan.operation.label}” cannot be undone: something else took its place since."
                raise NotPossible(fact, "Change by hand what is there now.") from None
    return PutBack(len(plan.free), len(plan.obstacles))


def put_back_in_steps(plan: Plan, between: Between) -> PutBack:
    """Puts back all that is free in short transactions, and leaves what something comes in the way of meanwhile.

    `between` is called behind each of them with (rows looked at, rows in all).
    """
    told, total = PutBack(left=len(plan.obstacles)), len(plan.free)
    for step in _steps(plan):
        with transaction.atomic():
            _locked(plan.operation)
            free = _still_free(plan, step)
            done = _written(plan, step, free)
        told.done += done
        told.left += len(step.keys) - done
        between(total - len(plan.free) + told.done, total)
    return told


def _written(plan: Plan, step: _Step, keys: list[int]) -> int:
    """Writes rows, together or each alone, where the place of some was taken by others since; returns how many."""
    try:
        with transaction.atomic():
            _write(plan, step, keys)
    except IntegrityError:
        return sum(_written(plan, step, [key]) for key in keys) if len(keys) > 1 else 0
    return len(keys)


def _locked(operation: Operation) -> None:
    """Asked within the transaction: of several who undo at once, one does."""
    operation.refresh_from_db()
    if operation.undone:
        raise NotPossible("This was undone already.", "Look at what was done before it.")


def _still_free(plan: Plan, step: _Step) -> list[int]:
    """Those of a step that nothing came in the way of meanwhile."""
    table, keys = step.table, step.keys
    plan.obstacles |= {
        row: Obstacle("it was changed just now", by) for row, by in _later(plan, [(table, key) for key in keys]).items()
    }
    if step.kind == "made":
        plan.obstacles |= {(table, holder): _held_obstacle(plan, table, held) for holder, held in _staying(plan, table, keys)}
    else:
        plan.obstacles |= {(table, key): Obstacle("what it lay in is no longer there") for key in _homeless_now(step)}
    waiting = set(plan.operation.changes.filter(table=table, row__in=keys, undone=False).values_list("row", flat=True))
    return [key for key in keys if key in waiting and (table, key) not in plan.obstacles]


def _homeless_now(step: _Step) -> Iterator[int]:
    for _, column, holder in holders_of(step.table):
        if (step.table, holder) == ("pool", "pool"):
            continue
        homes = {key: getattr(row, column) for key, (row, columns) in step.rows.items() if column in columns}
        there = set(model_of(holder)._base_manager.filter(pk__in=set(homes.values())).values_list("pk", flat=True))
        yield from (key for key, home in homes.items() if home is not None and home not in there)


def _steps(plan: Plan) -> Iterator[_Step]:
    """What goes back together: table by table what was changed and what is gone, then what was made; each found without a lock."""
    # What a row lies in is there before it is; pools lie in pools. Else what was changed makes room first for what comes back.
    sides: list[tuple[Kind, str]] = [(kind, table) for table in ORDER for kind in (_BACK if table != "pool" else reversed(_BACK))]
    sides += [("made", table) for table in reversed(ORDER)]
    for kind, table in sides:
        keys = plan.keys(kind, table)
        if table == "pool" and kind != "changed":
            keys = _by_depth(plan, kind, keys)
        for part in in_parts(keys, STEP):
            yield _Step(kind, table, part, _rows_before(plan, kind, table, part))


def _by_depth(plan: Plan, kind: Kind, keys: list[int]) -> list[int]:
    """Pools that are to go, those within others first; the other way round those that come back."""
    if kind == "made":
        parents = dict(model_of("pool")._base_manager.filter(pk__in=keys).values_list("pk", "parent_id"))
    else:
        parents = plan.homes.get(("pool", "parent_id"), {})

    def depth(key: int) -> int:
        seen = set[int]()
        at: int | None = key
        while at is not None and at not in seen:
            seen.add(at)
            at = parents.get(at)
        return len(seen)

    return sorted(keys, key=depth, reverse=kind == "made")


def _rows_before(plan: Plan, kind: Kind, table: str, keys: list[int]) -> dict[int, tuple[models.Model, list[str]]]:
    """The rows as they are to be, each with the columns that are to be saved of it."""
    if kind == "made":
        return {}
    model = model_of(table)
    fields = {f.attname: f for f in model._meta.concrete_fields}
    now = model._base_manager.in_bulk(keys) if kind == "changed" else {key: model(pk=key) for key in keys}
    rows: dict[int, tuple[models.Model, list[str]]] = {}
    for key, before in _before(plan, table, keys).items():
        # An older program may have kept columns that there are no more.
        known = [name for name in before if name in fields]
        if key in now:
            for name in known:
                setattr(now[key], name, fields[name].to_python(before[name]))
            rows[key] = now[key], known
    whole = [key for key, (_, columns) in rows.items() if "body" in columns]
    followers = refreshed(table, [rows[key][0] for key in whole])
    return rows | {key: (rows[key][0], sorted({*rows[key][1], *followers})) for key in whole}


def _before(plan: Plan, table: str, keys: Collection[int]) -> dict[int, dict[str, Any]]:
    """What rows held before the operation, of what it changed."""
    found: dict[int, dict[str, Any]] = {key: {} for key in keys}
    for change in plan.operation.changes.filter(table=table, row__in=keys, undone=False).order_by("pk"):
        found[change.row] = (change.before or {}) | found[change.row]
    return found


# Writing


def _write(plan: Plan, step: _Step, keys: list[int]) -> None:
    """Puts rows back, and marks their changes as undone."""
    model = model_of(step.table)
    if step.kind == "made":
        model._base_manager.filter(pk__in=keys).delete()
    else:
        rows = [step.rows[key] for key in keys if key in step.rows]
        if step.table == "pool":
            _at_the_top_if_lost([row for row, _ in rows])
        if step.kind == "gone":
            rows = _made_again(model, rows)
        _save(rows)
    plan.operation.changes.filter(table=step.table, row__in=keys, undone=False).update(undone=True)


Rows = list[tuple[models.Model, list[str]]]


def _made_again(model: type[models.Model], rows: Rows) -> Rows:
    """Rows that were deleted; returns what of them is still to be saved, since making them sets it to now."""
    moments = [{name: getattr(row, name) for name in ("created", "updated") if name in columns} for row, columns in rows]
    model._base_manager.bulk_create([row for row, _ in rows])
    for (row, _), known in zip(rows, moments, strict=True):
        for name, moment in known.items():
            setattr(row, name, moment)
    return [(row, list(known)) for (row, _), known in zip(rows, moments, strict=True)]


def _save(rows: Rows) -> None:
    """Rows of which the same columns are put back go back in one go."""
    groups: dict[tuple[str, ...], list[models.Model]] = {}
    for row, columns in rows:
        groups.setdefault(tuple(sorted(columns)), []).append(row)
    for names, group in groups.items():
        if names:
            save_columns(group, names)


def _at_the_top_if_lost(pools: Iterable[Any]) -> None:
    """A pool whose parent is no longer there lies at the top."""
    pools = list(pools)
    coming = {pool.pk for pool in pools}
    wanted = {pool.parent_id for pool in pools} - {None} - coming
    there = coming | set(model_of("pool")._base_manager.filter(pk__in=wanted).values_list("pk", flat=True))
    for pool in pools:
        if pool.parent_id not in there:
            pool.parent_id = None


def finish(operation: Operation, told: PutBack, in_part: bool) -> None:
    """Marks an operation as undone where all of it was, or where a part was wanted and the rest stays."""
    if in_part or not told.left:
        Operation.objects.filter(pk=operation.pk).update(undone=True)
        operation.undone = True
