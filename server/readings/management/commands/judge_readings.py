"""Judges stored readings by the rules of today, when that has not been done yet."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db.models import Max, Min
from django.utils import timezone

from core.quality.flags import rule_book, rule_versions
from server.instruments.models import Instrument
from server.readings.models import FlagRules, Reading
from server.readings.store import rejudge


class Command(BaseCommand):
    help = "Judge all readings again after the rules of quality changed."

    def handle(self, *args: Any, **options: Any) -> None:
        version = rule_book().version
        for number, change in rule_versions().items():
            FlagRules.objects.get_or_create(version=number, defaults={"change": change})
        if FlagRules.objects.filter(version=version, judged_at__isnull=False).exists():
            return
        for instrument in Instrument.unscoped.prefetch_related("channels").order_by("pk"):
            channels = [c.pk for c in instrument.channels.all()]
            stretch = Reading.unscoped.filter(channel__in=channels).aggregate(
                first=Min("time"), last=Max("time")
            )
            if stretch["first"] is not None:
                self.stderr.write(f"· Judging the readings of {instrument.label}")
                rejudge(channels, stretch["first"], stretch["last"])
        FlagRules.objects.filter(version=version).update(judged_at=timezone.now())
