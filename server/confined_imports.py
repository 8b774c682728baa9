"""Imported once by the process that others are forked from to read files: all that readers need."""

import django

django.setup()

import server.calibration.sheet_file  # noqa: E402
import server.imports.parsing  # noqa: E402
import server.instruments.pictures  # noqa: E402
import server.maps.files  # noqa: E402
import server.soils.laboratory_file  # noqa: E402
import server.weather.station_file  # noqa: E402, F401
