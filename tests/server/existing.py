"""Things of a farm that a path of the API may name, and one of each that the demo has none of."""

import re
from typing import Any
from uuid import uuid4

from django.apps import apps

from server.devices.models import Device
from server.farms.models import Change, Farm, Membership
from server.farms.scope import FarmOwned
from server.findings.models import Finding, FindingDecision, FindingEvidence
from server.imports.models import FileImport, SavedLayout
from server.instruments.models import ChannelCalibration, Instrument, InstrumentPhoto
from server.plan.models import AnnouncedSet, Announcement, FieldPhoto, RunSheet
from server.readings.models import ReadingReview, Review
from server.siting.models import LayerFile, ProbeSpot, SpotCheck
from server.surveys.models import SoilSurvey
from server.valves.models import Valve, ValveAlarm, ValveCommand


def add_one_of_each(farm: Farm) -> None:
    """What the demo has none of."""
    probe = Instrument.objects.for_farm(farm).order_by("pk")[0]
    channel, now = probe.channels.order_by("pk")[0], farm.now()
    Device(farm=farm, name="D", token_sha256="0" * 64, token_hint="0").save()
    InstrumentPhoto(instrument=probe, taken_at=now, image=b"0").save()
    ChannelCalibration(
        channel=channel, kind="offset", coefficients=[0, 1, 0, 0], reason="r", made_at=now
    ).save()
    ReadingReview(
        instrument=probe,
        channels=[channel.pk],
        first=now,
        last=now,
        review=Review.DOUBTED,
        reason="r",
        readings=0,
        made_at=now,
    ).save()
    _add_finding(farm, probe)
    valve = Valve.objects.for_farm(farm).order_by("pk")[0]
    ValveCommand(valve=valve, kind="close", state="done", asked_at=now, expires_at=now).save()
    ValveAlarm(valve=valve, fault="leak", flow_ls=1.0, began_at=now, ended_at=now).save()
    FieldPhoto(farm=farm, key=uuid4(), image=b"0", received_at=now).save()
    Change(farm=farm, at=now, done="hold_added", thing=1).save()
    layout = {"data_from": 2, "time_column": 0}
    SavedLayout(farm=farm, name="L", layout=layout, used_at=now).save()
    sheet = RunSheet(farm=farm, asked_at=now, status="failed")
    sheet.save()
    told = Announcement(farm=farm, sheet=sheet, number=1, sets=[], changes=[], made_at=now)
    told.save()
    AnnouncedSet(announcement=told, irrigation=probe.block.irrigations.order_by("pk")[0]).save()
    sample = {"lines": [1], "cells": [["time"]], "sheets": []}
    FileImport(farm=farm, file_name="a", size=1, layout=layout, sample=sample, state="ready").save()
    LayerFile(farm=farm, file_name="a", size=1, state="looked").save()
    spot = {"position": [3.0565, 56.4037], "purpose": "block", "why": "w", "made_at": now}
    chosen = ProbeSpot(block=probe.block, name="S", **spot)
    chosen.save()
    SpotCheck(spot=chosen, at=now, way="feel", made_at=now).save()
    SoilSurvey(farm=farm, file_name="a", made_at=now).save()


def _add_finding(farm: Farm, probe: Instrument) -> None:
    now = farm.now()
    finding = Finding(
        block=probe.block,
        instrument=probe,
        cause="not_run",
        likelihood=0.9,
        first_at=now,
        last_at=now,
        found_at=now,
    )
    finding.save()
    FindingEvidence(finding=finding, from_at=now, to_at=now, figure="water", seen=0.0).save()
    FindingDecision(finding=finding, status="confirmed", made_at=now, image=b"0").save()


def _owned() -> list[type[FarmOwned]]:
    return [m for m in apps.get_models() if issubclass(m, FarmOwned)]


def _words(name: str) -> set[str]:
    return {w.lower() for w in re.findall(r"[A-Z][a-z]*", name)}


def meant(parameter: str) -> list[type[FarmOwned]]:
    """What a path's parameter may mean; anything, where nothing has its name."""
    noun = parameter.removesuffix("_id")
    return [m for m in _owned() if noun in _words(m.__name__)] or _owned()


def keys_of(farm: Farm, parameter: str) -> list[Any]:
    """Keys of the farm's things that a path's parameter may mean."""
    if parameter == "person_id":
        return sorted(Membership.objects.filter(farm=farm).values_list("user", flat=True))
    things = [m.objects.for_farm(farm) for m in meant(parameter)]
    firsts = [rows.values_list("pk", flat=True).first() for rows in things]
    found = sorted({pk for pk in firsts if isinstance(pk, int)})
    return found or [1]
