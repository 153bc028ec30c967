"""Copies of pools, and offers."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.web.bounds import Id
from rogatum.web.courses.services import course_for
from rogatum.web.jobs.schemas import JobOut
from rogatum.web.pools.models import Pool
from rogatum.web.sharing import services
from rogatum.web.sharing.models import Offer
from rogatum.web.sharing.rules import offers_for
from rogatum.web.sharing.schemas import LookIn, OfferLedgerOut, OfferOut, SendCopyIn, SentOut

router = Router()
SHOWN = 100


@router.post("/courses/{course_id}/pools/send", response=SentOut, operation_id="pools_send")
def send_copy(request: HttpRequest, course_id: Id, body: SendCopyIn) -> object:
    """Sends a copy of pools: into other courses, to colleagues, or both."""
    course = course_for(request.user, course_id)
    pools = list(Pool.objects.filter(course=course, pk__in=body.pools))
    targets = [course_for(request.user, key) for key in dict.fromkeys(body.courses)]
    sent = services.send_copies(course, request.user, pools, targets, body.people, body.note)
    return SentOut(items=sent.items, courses=sent.courses, offers=len(sent.offers), jobs=[job.pk for job in sent.jobs])


def _out(user: Any, offer: Offer, taken: int) -> OfferOut:
    theirs = offer.recipient_id == user.pk
    return OfferOut(
        id=offer.pk,
        title=offer.title,
        note=offer.note,
        course_name=offer.course_name,
        sender=offer.sender.get_username(),
        recipient=offer.recipient.get_username(),
        mine=offer.sender_id == user.pk,
        pools=offer.pools,
        items=offer.items,
        taken=taken,
        state=offer.state,
        created=offer.created,
        source=offer.source_id if theirs else None,
        course=offer.source.course_id if theirs and offer.source else None,
    )


@router.get("/offers", response=list[OfferOut], operation_id="offers_list")
def list_offers(request: HttpRequest) -> object:
    """The offers that one was sent, and those that one sent oneself, with what became of them."""
    offers = list(offers_for(request.user)[:SHOWN])
    taken = services.note_taken(offers)
    return [_out(request.user, offer, taken[offer.pk]) for offer in offers]


def _offer(request: HttpRequest, offer_id: int) -> Offer:
    return get_object_or_404(offers_for(request.user), pk=offer_id)


@router.get("/offers/{offer_id}/ledger", response=OfferLedgerOut, operation_id="offers_ledger")
def get_ledger(request: HttpRequest, offer_id: Id) -> object:
    """What was sent against what its file holds, item by item."""
    offer = _offer(request, offer_id)
    return OfferLedgerOut(title=offer.title, sender=offer.sender.get_username(), ledger=offer.ledger)


@router.post("/offers/{offer_id}/look", response=JobOut, operation_id="offers_look")
def look_at(request: HttpRequest, offer_id: Id, body: LookIn) -> object:
    """Reads an offer into a course of one's own, where it waits in Check."""
    return services.look_at(_offer(request, offer_id), request.user, course_for(request.user, body.course))


@router.post("/offers/{offer_id}/decline", response=OfferOut, operation_id="offers_decline")
def decline(request: HttpRequest, offer_id: Id) -> object:
    """Declines an offer, or takes back one's own."""
    return _out(request.user, services.decline(_offer(request, offer_id), request.user), 0)


@router.post("/offers/{offer_id}/reopen", response=OfferOut, operation_id="offers_reopen")
def reopen(request: HttpRequest, offer_id: Id) -> object:
    """Takes back that one declined an offer, or that one took one's own back."""
    return _out(request.user, services.reopen(_offer(request, offer_id), request.user), 0)
