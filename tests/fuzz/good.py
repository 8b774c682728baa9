"""Bodies that a farm's operations take, for something in them to be made odd."""

import copy
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import uuid4

from server.blocks.models import Block, CropSeason
from server.farms.models import Farm
from server.instruments.models import Instrument
from server.soils.models import SoilProfile
from tests.fuzz.files import RING
from tests.server.conftest import new_block
from tests.server.existing import keys_of
from tests.server.minimal import operations

HORIZONS = [
    {"top_mm": 0, "bottom_mm": 300, "sand": 40, "silt": 40, "clay": 20, "organic_matter": 2.5},
    {"top_mm": 300, "bottom_mm": 900, "texture": "clay loam", "gravel": 5, "ece": 1.1},
]
CROP = {
    "name": "Potato, earlies",
    "book_key": "potato",
    "reason": "own trial",
    "stage_days": [20, 25, 35, 20],
    "kc": [0.5, 1.15, 0.75],
    "kcb": [0.15, 1.1, 0.65],
    "height_m": 0.6,
    "surface": "grass",
    "root_initial_mm": 200,
    "root_schedule_mm": 500,
    "root_deep_mm": 700,
    "p": 0.35,
    "tension_kpa": 40,
    "salt": {"threshold_ds_m": 1.7, "slope_percent": 12},
    "degree_days": {
        "method": "average",
        "base_c": 7,
        "upper_c": 30,
        "stage_sums": [200, 400, 600, 300],
    },
    "canopy": {"height_m": 0.6, "cover": 0.9},
}
SAMPLES = [
    {"raw": r, "wet_g": 160 + r / 10, "dry_g": 140, "tare_g": 10, "volume_ml": 100}
    for r in (300, 400, 500, 600, 700)
]
SET = {
    "status": "done",
    "started_at": "2026-07-13T06:00",
    "hours": 4,
    "gross_mm": 12,
    "share": 1,
    "note": "n",
}
WEATHER = {
    "t_min_c": 12.3,
    "t_max_c": 21.5,
    "rh_min": 63,
    "rh_max": 84,
    "solar_mj": 22,
    "wind_m_s": 2.8,
    "rain_mm": 1,
}
LINE = {"type": "LineString", "coordinates": RING[:3]}
FIELD = {"type": "Polygon", "coordinates": [RING]}


@dataclass(frozen=True)
class Good:
    """Keys of what exists, belonging together, and bodies by operation."""

    keys: dict[str, list[Any]]
    bodies: dict[str, Any]

    def body(self, operation: str, number: int) -> Any:
        """A body of an operation, with names that were not there before; None where it has none."""
        if operation not in self.bodies:
            return None
        body = copy.deepcopy(self.bodies[operation])
        if isinstance(body, dict):
            for name in ("name", "label"):
                if name in body:
                    body[name] = f"{body[name]} {operation} {number}"
            if operation == "record_visits":
                body["visits"][0]["key"] = str(uuid4())
        return body


def good(farm: Farm) -> Good:
    """What a farm takes."""
    block = Block.objects.for_farm(farm).order_by("pk")[0]
    season = CropSeason.objects.for_farm(farm).filter(block=block).order_by("-planted_on")[0]
    soil = SoilProfile.objects.for_farm(farm).order_by("pk")[0]
    probe = Instrument.objects.for_farm(farm).filter(kind="capacitance_probe").order_by("pk")[0]
    gauge = Instrument.objects.for_farm(farm).filter(kind="tensiometer").order_by("pk")[0]
    raw = list(probe.channels.order_by("depth_mm").values_list("pk", flat=True))
    tension = gauge.channels.filter(quantity="tension").order_by("pk")[0].pk
    names = {
        p["name"]
        for _, _, op in operations()
        for p in op.get("parameters", [])
        if p["in"] == "path"
    }
    keys: dict[str, list[Any]] = {n: keys_of(farm, n) for n in names if n.endswith("_id")}
    keys |= {
        "slug": [farm.slug],
        "on": [str(farm.now().date() - timedelta(days=1))],
        "key": ["potato", 1],
        "name": ["Things", "Datastreams", "Sensors"],
        "other": ["Datastreams", "Things"],
        "kind": ["refill", "full"],
        "token": ["x"],
        "block_id": [block.pk],
        "season_id": [season.pk],
        "soil_id": [soil.pk],
        "instrument_id": [probe.pk],
        "channel_id": raw,
    }
    soil_in = {"name": "Slade", "note": "n", "horizons": HORIZONS, "reason": "r"}
    block_in = new_block(
        name="Fuzz", slope_percent=2, rain_room_mm=5, water_ecw=0.7, supply="borehole", dual=True
    )
    season_in = {"crop_key": "potato", "planted_on": "2026-04-20"}
    worksheet = {"samples": SAMPLES, "channels": raw[:1], "organic_percent": 2, "dried_c": 105}
    visit = {
        "key": "",
        "instrument_id": gauge.pk,
        "at": "2026-07-14T05:30",
        "age_seconds": 60,
        "unit": "kPa",
        "values": [{"channel_id": tension, "value": 22}],
    }
    bodies = {
        "set_preferences": {"units": "metric", "theme": "light"},
        "enter_et": {"low": 3, "expected": 4.5, "high": 6, "alfalfa_ratio": 1.2},
        "add_soil": soil_in,
        "change_soil": soil_in,
        "assign_soil": {"block_ids": [block.pk], "from_on": "2026-05-01", "reason": "r"},
        "soil_preview": {"horizons": HORIZONS, "crop_key": "potato", "planted_on": "2026-05-01"},
        "add_crop": CROP,
        "change_crop": CROP,
        "add_block": block_in,
        "change_block": block_in,
        "change_many": {
            "block_ids": [block.pk],
            "refill_method": "crop_p",
            "value": 0.4,
            "reason": "r",
        },
        "begin_season": {"crop_key": "potato", "planted_on": "2025-04-20"},
        "change_season": season_in,
        "add_observation": {"kind": "cover", "on": "2026-06-20", "cover": 0.6, "height_m": 0.4},
        "set_refill": {
            "refill_method": "crop_p",
            "value": 0.4,
            "from_on": "2026-06-01",
            "reason": "r",
        },
        "measure_outline": {"geometry": FIELD, "block_id": block.pk},
        "set_outline": {"geometry": FIELD, "take_area": False},
        "split_block": {"line": [[0.002, 50.9], [0.002, 51.1]], "name": "Half"},
        "add_feature": {"kind": "pipe", "name": "Main", "geometry": LINE},
        "irrigation_design": {
            "kind": "solid set sprinkler",
            "figures": {"nozzle_m3_h": 3.0, "spacing_m": 12, "row_spacing_m": 15},
            "area_m2": 50_000,
            "slope_percent": 2,
            "gross_mm": 30,
            "block_id": block.pk,
        },
        "save_catch_cans": {"on": "2026-07-01", "catch_mm": [10, 11, 9, 12] * 4, "note": "n"},
        "preview_catch_cans": {"on": "2026-07-01", "catch_mm": [10, 11, 9, 12] * 4},
        "add_irrigations": {**SET, "block_ids": [block.pk]},
        "correct_set": SET,
        "start_set": {"at": "2026-07-14T05:00", "meter_m3": 100},
        "add_position": {"at": "2026-07-14T05:00", "place": 0.4},
        "add_holds": {
            "block_ids": [block.pk],
            "kind": "spray",
            "starts_at": "2026-07-15T06:00",
            "ends_at": "2026-07-16T06:00",
        },
        "set_rain": {"rain_mm": 3},
        "set_weather_day": WEATHER,
        "set_station": {"latitude": 51, "longitude": 0.1, "elevation_m": 40},
        "add_instrument": {"label": "T", "kind": "tensiometer", "depths_mm": [300, 600]},
        "exclude_sensor": {"suspect": False},
        "enter_readings": {
            "time": "2026-07-14T05:31",
            "unit": "%",
            "values": [{"channel_id": raw[0], "value": 22}],
        },
        "review_readings": {
            "channels": raw[:1],
            "first": "2026-07-10T00:00",
            "last": "2026-07-10T06:00",
            "trusted": False,
            "reason": "r",
        },
        "guess_layout": {"instrument_id": probe.pk},
        "add_person": {"name": "Jory", "email": "jory@fenn.example", "role": "scout"},
        "change_role": {"role": "viewer"},
        "change_password": {"current": "nope", "password": "three wet furrows"},
        "add_device": {"name": "Gate", "instruments": [probe.pk]},
        "change_instrument": {"label": "T1", "site": "row 4", "position": [0.002, 51.001]},
        "add_instrument_event": {"kind": "serviced", "at": "2026-07-13T09:00", "note": "n"},
        "add_round": {"name": "Walk", "every_days": 3, "instruments": [gauge.pk]},
        "change_round": {"name": "Walk", "every_days": 3, "instruments": [gauge.pk]},
        "record_visits": {"visits": [visit]},
        "calculate_worksheet": worksheet,
        "apply_curve": {**worksheet, "kind": "linear", "reason": "r", "insist": True},
        "decide": {"kind": "declined", "why": "rain", "reason": "r"},
        "accept_many": {"block_ids": [block.pk]},
        "what_if": {
            "set_start_hours": 6,
            "set_hours": 5,
            "set_gross_mm": 20,
            "rain_mm": [0, 5],
            "et_factor": 1.1,
        },
        "set_morning_mail": {"morning_mail": True},
    }
    return Good(keys, bodies)
