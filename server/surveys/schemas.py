"""Soil surveys on the wire."""

from datetime import datetime
from enum import StrEnum

from server.base.language import Translated
from server.base.schema import Schema
from server.soils.schemas import HorizonIn
from server.surveys.attributes import Figure


class SurveySoilState(StrEnum):
    """What becomes of a soil of a survey."""

    NEW = "new"
    IN_LIBRARY = "in library"
    NO_TEXTURE = "no texture"


class SurveyAttribute(Schema):
    """An attribute, what it was taken for, and of which horizon from 1; 0 of all or not said."""

    name: str
    figure: Figure
    horizon: int


class SurveySoilOut(Schema):
    """A soil of a survey and its areas, of which ``area_m2`` lies in blocks. ``problem`` says why
    it has no horizons, ``depth_assumed`` that the survey does not tell how deep it goes."""

    name: str
    areas: int
    area_m2: float
    blocks: list[str]
    state: SurveySoilState
    horizons: list[HorizonIn]
    depth_assumed: bool
    problem: Translated


class SoilSurveyRead(Schema):
    """How a file was understood; ``survey`` is its number once it is saved."""

    projection: str
    properties: list[str]
    name_property: str
    attributes: list[SurveyAttribute]
    ignored: list[str]
    beyond: int
    soils: list[SurveySoilOut]
    survey: int | None


class SoilSurveyOut(Schema):
    id: int
    file_name: str
    made_at: datetime
    made_by: str
    zones: int
    soils: int
