"""What one was told, webhooks with the log of their deliveries, and the e-mails that the demo
catches."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions.notifying import KINDS
from plumrake.outbound.caught_emails import caught_emails
from plumrake.outbound.webhooks import new_secret
from plumrake.records import notifications
from plumrake.service.access import Database, Manager, SignedIn
from plumrake.service.paging import next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, check_reach, site_or_404

router = APIRouter(tags=["notifications"])

_After = Annotated[int | None, Query(ge=1)]
_HEARD = frozenset(
    {*(f"fix.{kind}" for kind in KINDS), "sweep.done", "clearance.answered", "release.answered"}
)


@router.get("/notifications", operation_id="listNotifications")
async def list_notifications(
    request: Request,
    who: SignedIn,
    database: Database,
    unread: bool | None = None,
    after: _After = None,
    limit: Limit = 50,
) -> models.Listing[models.Notification]:
    """List what one was told, the newest first."""
    found = await notifications.notifications_of(
        database, who.id, unread=unread, before=after, limit=limit
    )
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.Notification.model_validate(notification) for notification in found],
        next=next_part,
    )


@router.post("/notifications/seen", operation_id="noteSeen", status_code=204)
async def note_seen(body: models.SeenUpTo, who: SignedIn, database: Database) -> None:
    """Say that one has seen one's notifications up to one."""
    await notifications.mark_read(database, who.id, body.id)


@router.get("/sites/{slug}/webhooks", operation_id="listWebhooks")
async def list_webhooks(
    slug: str, who: Manager, database: Database
) -> models.Listing[models.Webhook]:
    """List a site's webhooks, without their secrets."""
    site = await site_or_404(database, slug)
    found = [
        models.Webhook.model_validate(one).model_copy(update={"secret": None})
        for one in await notifications.webhooks_of(database, site.id)
    ]
    return models.Listing(items=found)


@router.post("/sites/{slug}/webhooks", operation_id="addWebhook", status_code=201)
async def add_webhook(
    slug: str, body: models.NewWebhook, who: Manager, database: Database
) -> models.Webhook:
    """Add a webhook; the secret for checking its signatures is in this answer and never again."""
    site = await site_or_404(database, slug)
    if site.private_leave:
        await check_reach(database, who)
    unknown = next((kind for kind in body.kinds if kind not in _HEARD), None)
    if unknown is not None:
        raise Refusal(
            422,
            "not-valid",
            f"kinds: there is no event '{unknown}'; there are: {', '.join(sorted(_HEARD))}",
        )
    return models.Webhook.model_validate(
        await notifications.add_webhook(
            database, site.id, body.address, new_secret(), body.kinds, who.id
        )
    )


@router.delete("/sites/{slug}/webhooks/{webhook_id}", operation_id="endWebhook", status_code=204)
async def end_webhook(slug: str, webhook_id: int, who: Manager, database: Database) -> None:
    """End a webhook."""
    if not await notifications.end_webhook(
        database, (await site_or_404(database, slug)).id, webhook_id
    ):
        raise not_found("webhook", webhook_id)


@router.get("/sites/{slug}/deliveries", operation_id="listDeliveries")
async def list_deliveries(
    request: Request,
    slug: str,
    who: Manager,
    database: Database,
    after: _After = None,
    limit: Limit = 50,
) -> models.Listing[models.Delivery]:
    """List what was sent to a site's webhooks, the newest first, with how it went."""
    site = await site_or_404(database, slug)
    found = await notifications.deliveries_of(database, site.id, before=after, limit=limit)
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.Delivery.model_validate(one) for one in found], next=next_part
    )


@router.post(
    "/sites/{slug}/deliveries/{delivery_id}/again", operation_id="sendAgain", status_code=204
)
async def send_again(slug: str, delivery_id: int, who: Manager, database: Database) -> None:
    """Try a delivery again at once."""
    if not await notifications.send_again(
        database, (await site_or_404(database, slug)).id, delivery_id
    ):
        raise not_found("delivery", delivery_id)


@router.get("/emails", operation_id="listEmails")
async def list_emails(request: Request, who: Manager) -> models.Listing[models.CaughtEmail]:
    """List the e-mails that were caught and not sent on, the newest first; only where the service
    is set up to catch them."""
    folder = request.app.state.settings.mail_folder
    if not folder:
        raise Refusal(
            404,
            "no-mailbox",
            "e-mails are sent and not caught here; PLUMRAKE_MAIL_FOLDER catches them",
        )
    return models.Listing(
        items=[models.CaughtEmail.model_validate(email) for email in caught_emails(folder)]
    )
