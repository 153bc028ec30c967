"""What one did in a course, undone; and what was deleted there, brought back."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from rogatum.web.bounds import Id
from rogatum.web.courses.models import Operation
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.models import Job
from rogatum.web.undoing import services
from rogatum.web.undoing.schemas import LastOut, OperationOut, UndoneOut

router = Router()


@router.get("/courses/{course_id}/operations", response=list[OperationOut], operation_id="operations_list")
def list_operations(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    return Operation.objects.filter(course=course, user=request.user, by="", job=None)[:20]


@router.get("/operations/last", response=LastOut, operation_id="operations_last")
def last_operation(request: HttpRequest) -> object:
    """What one did last, wherever it was: that is what undo takes back."""
    operation = services.last_of(request.user)
    course = operation.course if operation else None
    still = services.still_changing(request.user)
    return LastOut(operation=operation, course=course and course.pk, course_name=course.name if course else "", still=still)


def _out(operation: Operation, job: Job | None) -> UndoneOut:
    said = OperationOut.from_orm(operation).model_dump()
    return UndoneOut(**said, job=job.pk if job else None)


@router.post("/operations/{operation_id}/undo", response=UndoneOut, operation_id="operations_undo")
def undo_operation(request: HttpRequest, operation_id: Id, in_part: bool = False) -> object:
    """Undoes an operation of one's own; with `in_part` only what nobody touched since."""
    operation = services.operation_for(request.user, operation_id)
    job = services.undo(operation, request.user, in_part)
    return _out(operation, job)


@router.post("/courses/{course_id}/deleted/{operation_id}", response=UndoneOut, operation_id="deleted_bring_back")
def bring_back(request: HttpRequest, course_id: Id, operation_id: Id, in_part: bool = False) -> object:
    """Brings back what an operation deleted; with `in_part` only what nothing stands in the way of."""
    course = course_for(request.user, course_id)
    operation, job = services.bring_back(course, request.user, operation_id, in_part)
    return _out(operation, job)
