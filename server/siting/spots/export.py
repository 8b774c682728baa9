"""Chosen spots taken along: as GPX for a receiver, as GeoJSON for a map.

References
----------
.. [1] GPX 1.1, https://www.topografix.com/GPX/1/1/
.. [2] Butler, H. et al. (2016), The GeoJSON Format, RFC 7946.
"""

import json
from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, tostring

from server.siting.models import ProbeSpot

GPX = "http://www.topografix.com/GPX/1/1"


def as_gpx(spots: Sequence[ProbeSpot]) -> bytes:
    """Waypoints of GPX 1.1 [1]_."""
    root = Element("gpx", {"xmlns": GPX, "version": "1.1", "creator": "Even Furrow"})
    for spot in spots:
        lon, lat = spot.position
        point = SubElement(root, "wpt", {"lat": f"{lat:.7f}", "lon": f"{lon:.7f}"})
        SubElement(point, "time").text = spot.made_at.strftime("%Y-%m-%dT%H:%M:%SZ")
        SubElement(point, "name").text = f"{spot.block.name} {spot.name}"
        SubElement(point, "desc").text = spot.why
        SubElement(point, "sym").text = "Flag"
    body: bytes = tostring(root, encoding="utf-8", xml_declaration=True)
    return body


def as_geojson(spots: Sequence[ProbeSpot]) -> bytes:
    """Points of GeoJSON [2]_."""
    features = [
        {
            "type": "Feature",
            "geometry": {"type": "Point", "coordinates": [round(v, 7) for v in s.position]},
            "properties": {
                "block": s.block.name,
                "name": s.name,
                "purpose": s.purpose,
                "score": s.score,
                "why": s.why,
            },
        }
        for s in spots
    ]
    found = {"type": "FeatureCollection", "features": features}
    return json.dumps(found, ensure_ascii=False).encode()
