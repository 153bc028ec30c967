"""Putting back what an operation did, and nothing that somebody did since.

What would go back, and what stands in its way, is found out first (`undo_plan.py`); then it is put back in short transactions,
each of which asks again. What an operation changed or deleted goes back first, so that what lies elsewhere again does not go with
what the operation made; that goes last.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, models, transaction

from rogatum.web.bulk import save_columns
from rogatum.web.courses.models import Operation
from rogatum.web.courses.recorded import holders_of, model_of, refreshed
from rogatum.web.courses.undo_plan import ORDER, Kind, Obstacle, Plan, held_obstacle, later_on, staying
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible

# How many rows one short transaction puts back.
STEP = 100
_BACK: tuple[Kind, ...] = ("changed", "gone")


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


def put_back(plan: Plan, in_part: bool) -> None:
    """Puts back all that is free, in one transaction. Raises NotPossible where something came in its way meanwhile."""
    steps = list(_steps(plan))
    with transaction.atomic():
        refuse_undone(plan.operation)
        for step in steps:
            if len(_still_free(plan, step)) < len(step.keys):
                raise NotPossible("Somebody changed some of this just now.", "Look at it, and undo it once more.")
            try:
                _write(plan, step, step.keys)
            except IntegrityError:
                fact = f"“{plan.operation.label}” cannot be undone: something else took its place since."
                raise NotPossible(fact, "Change by hand what is there now.") from None
        finish(plan.operation, PutBack(len(plan.free), len(plan.obstacles)), in_part)


def put_back_in_steps(plan: Plan, between: Between) -> PutBack:
    """Puts back all that is free in short transactions, and leaves what something comes in the way of meanwhile.

    `between` is called behind each of them with (rows looked at, rows in all).
    """
    told, total, before = PutBack(left=len(plan.obstacles)), len(plan.free), len(plan.obstacles)
    for step in _steps(plan):
        with transaction.atomic():
            refuse_undone(plan.operation)
            free = _still_free(plan, step)
            done = _written(plan, step, free)
        told.done += done
        told.left += len(step.keys) - done
        between(told.done + told.left - before, total)
    return told


def _written(plan: Plan, step: _Step, keys: list[int]) -> int:
    """Writes rows, together or each alone, where the place of some was taken by others since; returns how many."""
    try:
        with transaction.atomic():
            _write(plan, step, keys)
    except IntegrityError:
        return sum(_written(plan, step, [key]) for key in keys) if len(keys) > 1 else 0
    return len(keys)


def refuse_undone(operation: Operation) -> None:
    """Asked within the transaction: of several who undo at once, one does. Raises NotPossible for the others."""
    operation.refresh_from_db()
    if operation.undone:
        raise NotPossible("This was undone already.", "Look at what was done before it.")


def _still_free(plan: Plan, step: _Step) -> list[int]:
    """Those of a step that nothing came in the way of meanwhile."""
    table, keys = step.table, step.keys
    plan.obstacles |= {
        row: Obstacle("it was changed just now", by) for row, by in later_on(plan, [(table, key) for key in keys]).items()
    }
    if step.kind == "made":
        plan.obstacles |= {(table, holder): held_obstacle(plan, table, held) for holder, held in staying(plan, table, keys)}
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
        for part in in_steps(keys, STEP):
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
