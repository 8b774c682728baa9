"""How far back diagnoses look."""

from core.quality.climbs import DAY_HOURS

# What is said of single irrigations goes back so far, of habits and trends so far [h].
RECENT_H, SEASON_H = 21 * DAY_HOURS, 60 * DAY_HOURS
