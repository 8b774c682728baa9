"""Columns of yield and survey files told by their headings, in several languages."""

import pytest

from core.siting.layer import LayerKind
from core.siting.yield_units import YieldUnit
from server.siting.layer_files.reading import ColumnRole
from server.siting.layer_files.roles import kind_of, roles_of, unit_of

ORDER = ("east", "north", "value", "moisture", "speed", "width", "time")


@pytest.mark.parametrize(
    ("headings", "expected"),
    [
        ("Longitude,Latitude,Yield (t/ha),Moisture %,Speed,Swath width,Time", ORDER),
        ("X,Y,Ertrag dt/ha,Feuchte,Geschwindigkeit,Arbeitsbreite,Uhrzeit", ORDER),
        ("Länge,Breite,Ertrag,Kornfeuchte,Fahrgeschwindigkeit,Schnittbreite,Zeit", ORDER),
        ("Longitude,Latitude,Rendement (q/ha),Humidité,Vitesse,Largeur,Heure", ORDER),
        ("Longitud,Latitud,Rendimiento,Humedad,Velocidad,Ancho,Hora", ORDER),
        ("Longitude,Latitude,Produtividade,Umidade,Velocidade,Largura,Hora", ORDER),
        ("Longitudine,Latitudine,Resa,Umidità,Velocità,Larghezza,Ora", ORDER),
        ("Lengtegraad,Breedtegraad,Opbrengst,Vocht,Snelheid,Werkbreedte,Tijd", ORDER),
        ("Longitud,Latitud,Skörd,Vattenhalt,Hastighet,Arbetsbredd,Tid", ORDER),
        ("Długość,Szerokość,Plon,Wilgotność,Prędkość,Szerokość robocza,Czas", ORDER),
        ("POINT_X,easting,northing,YLD_MASS,MOIST,SPEED,WDTH,TIMESTAMP", ("", *ORDER)),
    ],
)
def test_columns_by_their_headings(headings: str, expected: tuple[str, ...]) -> None:
    names = headings.split(",")
    found = roles_of({h: [] for h in names})
    assert {str(role): name for role, name in found.items()} == {
        role: name for role, name in zip(expected, names, strict=True) if role
    }


def test_a_dry_yield_is_not_dried_again() -> None:
    found = roles_of({"Wet yield (bu/ac)": [], "Dry yield (bu/ac)": [], "Moisture": []})
    assert found == {ColumnRole.VALUE: "Dry yield (bu/ac)"}
    assert ColumnRole.MOISTURE in roles_of({"Wet yield": [], "Moisture": []})


def test_a_date_is_a_time_with_a_clock_alone() -> None:
    assert roles_of({"Datum": ["2023-08-10T10:00:05"]}) == {ColumnRole.TIME: "Datum"}
    assert roles_of({"Date": ["10.08.2023"]}) == {}
    both = {"Date": ["8/10/2023 10:00"], "Time": ["10:00"]}
    assert roles_of(both) == {ColumnRole.TIME: "Time"}


@pytest.mark.parametrize(
    ("heading", "unit"),
    [
        ("Yield (t/ha)", YieldUnit.T_HA),
        ("yield_t_ha", YieldUnit.T_HA),
        ("Yield Mg ha", YieldUnit.T_HA),
        ("Ertrag [dt/ha]", YieldUnit.DT_HA),
        ("Rendement (q/ha)", YieldUnit.DT_HA),
        ("Rendimiento kg/ha", YieldUnit.KG_HA),
        ("Yield(bu/ac)", YieldUnit.BU_AC),
        ("Yld Vol(bu/a)", YieldUnit.BU_AC),
        ("Yield lb/ac", YieldUnit.LB_AC),
        ("Yield (tons/ac)", YieldUnit.TON_AC),
        ("Yield %", YieldUnit.RELATIVE),
    ],
)
def test_the_unit_of_a_yield_by_its_heading(heading: str, unit: YieldUnit) -> None:
    assert unit_of(heading, []) is unit


@pytest.mark.parametrize(
    ("heading", "kind"),
    [
        ("EC_dp", LayerKind.CONDUCTIVITY_DEEP),
        ("EC_sh", LayerKind.CONDUCTIVITY_SHALLOW),
        ("ECa deep (mS/m)", LayerKind.CONDUCTIVITY_DEEP),
        ("EMv", LayerKind.CONDUCTIVITY_DEEP),
        ("EMh", LayerKind.CONDUCTIVITY_SHALLOW),
        ("Leitfähigkeit", LayerKind.CONDUCTIVITY_SHALLOW),
        ("Elevation (m)", LayerKind.ELEVATION),
        ("Altitude", LayerKind.ELEVATION),
        ("NDVI", LayerKind.INDEX),
        ("Rendement", LayerKind.YIELD),
        ("Plon", LayerKind.YIELD),
    ],
)
def test_what_a_layer_is_of(heading: str, kind: LayerKind) -> None:
    assert kind_of("layer.csv", heading) is kind
    assert kind_of(f"{heading}.tif".replace("/", " per "), "band 1") is kind


def test_what_a_layer_is_of_may_not_be_said() -> None:
    assert kind_of("Quern Field.tif", "band 1") is None
