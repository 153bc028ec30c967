"""Undoing what one did, and bringing back what somebody deleted: at once, or as a job where it is much."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum.web.bulk import one_state
from rogatum.web.courses import putting_back, undo_plan
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course, Operation
from rogatum.web.courses.rules import can_edit, courses_for, must
from rogatum.web.courses.services import KEPT_FOR
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, WORKS, AtWork, start_job, work

# What is more than this is put back by a job.
AT_ONCE = putting_back.STEP
# How far back one looks for what was not undone.
LOOKED_BACK = 200


def operation_for(user: Any, operation_id: int) -> Operation:
    """An operation of one's own, in a course that one may see."""
    rows = Operation.objects.select_related("course", "user").filter(course__in=courses_for(user))
    return get_object_or_404(rows, pk=operation_id, user__pk=user.pk)


def last_of(user: Any) -> Operation | None:
    """What an account did last and did not undo, in any course that it may see."""
    rows = Operation.objects.select_related("course").filter(course__in=courses_for(user), user__pk=user.pk, by="", job=None)
    return next((operation for operation in rows.order_by("-pk")[:LOOKED_BACK] if not operation.undone), None)


def still_changing(user: Any) -> str:
    """What an account asked for that changes something and is still being done, in words; empty for nothing."""
    changing = [name for name, registered in WORKS.items() if registered.changes]
    under_way = Job.objects.filter(user__pk=user.pk, work__in=changing, state__in=(Job.State.WAITING, Job.State.RUNNING))
    return under_way.values_list("label", flat=True).first() or ""


def undo(operation: Operation, user: Any, in_part: bool = False) -> Job | None:
    """Puts everything that an operation of this account changed back as it was, or with `in_part` what nobody touched since.

    Returns the job that does it where it is much. Raises NotPossible where later work stands in the way, of whomever it is.
    """
    must(operation.user_id == user.pk and can_edit(user, operation.course))
    return _put_back(operation, user, in_part)


def bring_back(course: Course, user: Any, operation_id: int, in_part: bool = False) -> tuple[Operation, Job | None]:
    """Brings back what one operation deleted, whoever did it; returns the operation, and the job where it is much."""
    courses.must_edit(user, course)
    operation = get_object_or_404(Operation, pk=operation_id, course=course, created__gte=timezone.now() - KEPT_FOR)
    return operation, _put_back(operation, user, in_part)


def _put_back(operation: Operation, user: Any, in_part: bool) -> Job | None:
    if operation.by:
        raise NotPossible("This was done before the course came here.", "Change what is there now.")
    if operation.job is not None:
        raise NotPossible("This is still being done.", "Wait for it.")
    waiting = Job.objects.filter(course=operation.course_id, work="undo", arguments__operation=operation.pk)
    if waiting.filter(state__in=(Job.State.WAITING, Job.State.RUNNING)).exists():
        raise NotPossible("This is being undone already.", "Wait for it.")
    # Of one state: what another undo of it does meanwhile would look like something that came in its way.
    with one_state():
        putting_back.refuse_undone(operation)
        plan = undo_plan.plan_of(operation)
        if not in_part:
            undo_plan.refuse(plan, user)
    if len(plan.kinds) > AT_ONCE:
        said = {"operation": operation.pk, "in_part": in_part}
        return start_job(operation.course, user, "undo", f"Undo “{operation.label}”", said)
    putting_back.put_back(plan, in_part)
    return None


@work("undo", lane=CHANGING, changes=False)
def undo_work(job: Job, at_work: AtWork) -> None:
    """Puts much back, in short transactions between which others can work; what they come in the way of stays as it is."""
    said = job.arguments
    operation = get_object_or_404(Operation, pk=said["operation"], course=job.course)
    plan = undo_plan.plan_of(operation)
    if not said["in_part"]:
        undo_plan.refuse(plan, job.user)
    told = putting_back.put_back_in_steps(plan, at_work.progress)
    with at_work.finishing() as done:
        putting_back.finish(operation, told, said["in_part"])
        done({"operation": operation.pk, "undone": told.done, "left": told.left})
