"""Imported once by the process that others are forked from to read files: all that readers need."""

import django

django.setup()

import pykrige.ok  # noqa: E402, F401
from PIL import ImageFile  # noqa: E402

import server.calibration.sheet_file  # noqa: E402
import server.imports.parsing  # noqa: E402
import server.instruments.pictures  # noqa: E402
import server.maps.files  # noqa: E402
import server.siting.layer_files.running  # noqa: E402
import server.soils.laboratory_file  # noqa: E402
import server.today.printed  # noqa: E402
import server.weather.station_file  # noqa: E402

# Fonts are found and measured once: a page that is printed then takes half the time.
server.today.printed.printed(["<p>1</p>"])
# The engine that lays pages out makes every cut-off picture pass as whole, which those that people
# send must not.
ImageFile.LOAD_TRUNCATED_IMAGES = False
